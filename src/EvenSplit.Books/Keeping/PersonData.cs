using System.Text.Json;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Keeping;

/// <summary>Everything the book holds about one payee, as one JSON file for them. Money is text in major units beside its currency; account numbers are shortened as on screen.</summary>
public sealed class PersonData(BookDbContext db, AuditLog audit) : IUseCase
{
    /// <param name="orderFor">How an order is called under an agreement before the payee; null for its id.</param>
    /// <returns>False where there is no such payee.</returns>
    public bool Write(string payee, Stream output, string by, Func<string, string, string>? orderFor = null)
    {
        var person = db.Payees.AsNoTracking().Include(p => p.Codes).Include(p => p.Memberships).Include(p => p.Advances).Include(p => p.PersonalTerms).AsSplitQuery().FirstOrDefault(p => p.Id == payee);
        if (person is null) return false;
        audit.NoteAlone(by, "take one person's data", payee);
        using var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true });
        json.WriteStartObject();
        Part(json, "payee", new
        {
            person.Id,
            person.Name,
            Role = person.Role.ToString(),
            person.Email,
            person.PayoutCurrency,
            person.ActiveFrom,
            person.ActiveTo,
            person.TaxForm,
            person.Language,
            person.PostalAddress,
            person.TaxNumber,
            person.IsUnsubscribed,
            person.WithoutAdvices,
            person.Schedule,
            person.RecruitedBy,
            person.CustomerKeys,
            Codes = person.Codes.Select(c => c.Code),
            Memberships = person.Memberships.Select(m => new { m.AgreementId, m.From, m.To, m.Products }),
            Advances = person.Advances.Select(a => new { a.Reference, a.On, Amount = Text(a.Amount, person.PayoutCurrency), a.Note }),
            PersonalTerms = person.PersonalTerms.Select(t => new { t.AgreementId, t.From, t.To, t.Document }),
        });
        Part(json, "requests", db.Applications.AsNoTracking().Where(a => a.Payee == payee).OrderBy(a => a.Id).AsEnumerable()
            .Select(a => new { a.AgreementId, a.Name, a.Email, a.Country, a.Sites, a.Note, a.Answers, a.From, a.AskedAt, State = a.State.ToString(), a.Reason }));
        Part(json, "acceptances", db.Acceptances.AsNoTracking().Where(a => a.Payee == payee).ToArray());
        Part(json, "payoutDetails", db.PayoutDetails.AsNoTracking().Where(d => d.Payee == payee).OrderBy(d => d.Id).AsEnumerable()
            .Select(d => new { Method = d.Method.ToString(), d.Shown, d.ProposedBy, d.ProposedAt, d.ConfirmedBy, d.UsableFrom, d.RefusedBy }));
        Part(json, "remittances", db.Remittances.AsNoTracking().Where(r => r.Payee == payee).OrderBy(r => r.Id).AsEnumerable()
            .Select(r => new { Run = r.RunId, r.Currency, Opening = Text(r.Opening, r.Currency), Earned = Text(r.Earned, r.Currency), Paid = Text(r.Paid, r.Currency), State = r.State.ToString(), r.PaidOn, r.Reference }));
        Part(json, "adjustments", db.Adjustments.AsNoTracking().Where(a => a.Payee == payee).OrderBy(a => a.On).AsEnumerable()
            .Select(a => new { Kind = a.Kind.ToString(), a.On, Amount = Text(a.Amount, a.Currency), a.Currency, a.Note }));
        Part(json, "questions", db.PayeeQuestions.AsNoTracking().Where(q => q.Payee == payee).OrderBy(q => q.Id).Select(q => new { q.Question, q.AskedAt, q.Answer, q.AnsweredAt }).ToArray());
        Part(json, "signIns", db.PayeeSessions.AsNoTracking().Where(s => s.Payee == payee).OrderBy(s => s.StartedAt).Select(s => new { s.StartedAt, s.Origin, s.Browser, s.EndedAt }).ToArray());
        Part(json, "taxForms", db.TaxForms.AsNoTracking().Where(f => f.Payee == payee).OrderBy(f => f.Id).Select(f => new { f.FileName, f.At, f.CheckedAt, f.Refusal }).ToArray());
        Part(json, "requestsForPayments", db.PaymentRequests.AsNoTracking().Where(r => r.Payee == payee).OrderBy(r => r.Id).Select(r => new { r.AskedAt, r.RunId, r.WithdrawnAt }).ToArray());
        Part(json, "invoicesWrittenForThem", db.SelfBills.AsNoTracking().Where(b => b.Payee == payee).OrderBy(b => b.Number).Select(b => new { b.Number, b.RunId, b.IssuedOn, b.Supplier, b.Lines }).ToArray());
        Part(json, "leaderboards", db.LeaderboardPlaces.AsNoTracking().Where(p => p.Payee == payee).Join(db.Leaderboards, p => p.BoardId, b => b.Id, (p, b) => new { b.Name, p.Rank }).ToArray());
        Part(json, "goodsGiven", db.GivenGoods.AsNoTracking().Where(g => g.Payee == payee).OrderBy(g => g.Id).Select(g => new { g.On, g.Note }).ToArray());
        json.WriteStartArray("entries");
        foreach (var entry in db.Entries.AsNoTracking().Where(e => e.Payee == payee).Join(db.Orders, e => e.OrderId, o => o.Id, (e, o) => new { Entry = e, o.OrderId }).OrderBy(e => e.Entry.Period).ThenBy(e => e.Entry.Id))
        {
            JsonSerializer.Serialize(json, new { Order = orderFor?.Invoke(entry.Entry.Agreement, entry.OrderId) ?? entry.OrderId, entry.Entry.Agreement, Part = entry.Entry.Part.ToString(), IsReversal = entry.Entry.RefundId is not null, entry.Entry.PostedOn, entry.Entry.ClearsOn, Amount = Text(entry.Entry.Amount, entry.Entry.Currency), entry.Entry.Currency }, Web);
        }
        json.WriteEndArray();
        Part(json, "clicksOnTheirLinks", db.Clicks.AsNoTracking().Where(c => c.Payee == payee).GroupBy(c => new { c.Period, c.Source, c.Page }).Select(g => new { g.Key.Period, g.Key.Source, g.Key.Page, Clicks = g.Count() }).ToArray());
        Part(json, "record", db.Audit.AsNoTracking().Where(a => a.Things.Any(t => t.Thing == "payee:" + payee)).OrderBy(a => a.Id).Select(a => new { a.At, a.By, a.Action, a.Subject }).ToArray());
        json.WriteEndObject();
        return true;
    }

    private static readonly JsonSerializerOptions Web = new(JsonSerializerDefaults.Web);

    private static void Part<T>(Utf8JsonWriter json, string name, T content)
    {
        json.WritePropertyName(name);
        JsonSerializer.Serialize(json, content, Web);
    }

    private static string Text(long minor, string currency) => new Money(minor, Currency.Of(currency)).ToMajorText();
}
