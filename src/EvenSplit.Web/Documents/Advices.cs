using System.IO.Compression;
using EvenSplit.Books;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Web.Documents;

/// <summary>Remittance advices of a run: one as a document, all in an archive, each by mail to its payee.</summary>
public sealed class Advices(Statements statements, ShownToPayees shown, BookDbContext db, BookCache cache, Outbox outbox, MailTemplates templates, SelfBills selfBills, AuditLog audit, IWebHostEnvironment environment)
{
    private readonly DocumentFonts _fonts = new(environment);

    /// <returns>Null where the run is not locked or the payee is not in it.</returns>
    public byte[]? Document(int run, string payee) => Parts(run, payee) is { Length: > 0 } parts ? Advice.Draw(parts, cache.Get(db).PayeeName(payee), _fonts) : null;

    /// <summary>The payee's own statement alone, whoever else is paid with theirs.</summary>
    public byte[]? Own(int run, string payee) => statements.Find(run, payee) is { } own ? Advice.Draw([shown.Shown(own)], own.Payee.Name, _fonts) : null;

    /// <summary>The invoice that was written in a payee's name with a run.</summary>
    /// <returns>Null where none was.</returns>
    public (string Number, byte[] Document)? OwnInvoice(int run, string payee) => selfBills.Find(run, payee) is { } bill ? (bill.Number, Invoice.Draw(bill, _fonts)) : null;

    /// <summary>A payee's own statement, and those of payees whose money goes out with theirs.</summary>
    private Statement[] Parts(int run, string payee)
    {
        var others = db.Remittances.AsNoTracking().Where(r => r.RunId == run && r.Through == payee && r.Paid > 0).OrderBy(r => r.Id).Select(r => r.Payee).ToArray();
        var own = statements.Find(run, payee);
        return [.. own is null || (others.Length > 0 && !own.Payee.HasFigures) ? [] : new[] { shown.Shown(own) }, .. others.Select(o => shown.Shown(statements.Find(run, o)!))];
    }

    /// <summary>A document for each payee who has any figure in the run.</summary>
    public byte[] Archive(int run)
    {
        using var bytes = new MemoryStream();
        using (var archive = new ZipArchive(bytes, ZipArchiveMode.Create, leaveOpen: true))
        {
            foreach (var payee in Payees(run))
            {
                using var entry = archive.CreateEntry($"{payee}.pdf").Open();
                entry.Write(Document(run, payee));
            }
        }
        return bytes.ToArray();
    }

    /// <summary>Mails each payee whose address is known their advice, once a run and outcome; who is paid through another is in that one's.</summary>
    /// <returns>How many were put into the outbox now, how many payees have no address, and what is wrong with an address: it keeps no other from its mail.</returns>
    public (int Sent, int WithoutAddress, IReadOnlyList<string> Faults) Mail(int run, string by)
    {
        var addresses = db.Payees.AsNoTracking().Where(p => p.Email != null).ToDictionary(p => p.Id, p => p.Email!);
        // They read them on their own pages.
        var onPages = db.Payees.AsNoTracking().Where(p => p.WithoutAdvices).Select(p => p.Id).ToHashSet();
        var (sent, without) = (0, 0);
        var faults = new List<string>();
        foreach (var payee in Payees(run).Where(p => !onPages.Contains(p)))
        {
            var parts = Parts(run, payee);
            if (!addresses.TryGetValue(payee, out var address))
            {
                without++;
                continue;
            }
            try
            {
                if (Send(run, payee, parts, address)) sent++;
            }
            catch (Exception fault) when (fault is RefusedException or IOException or UnauthorizedAccessException)
            {
                faults.Add($"{cache.Get(db).PayeeName(payee)}: {fault.Message}");
            }
        }
        audit.NoteAlone(by, "mail advices", $"run {run}: {sent} put into the outbox, {without} without an address, {faults.Count} not mailed");
        return (sent, without, faults);
    }

    private bool Send(int run, string payee, Statement[] parts, string address)
    {
        var (first, name) = (parts[0], cache.Get(db).PayeeName(payee));
        var words = parts.Length == 1
            ? Advice.Payment(first)
            : $"One payment is made to you for {MoneyWords.Count(parts.Length, "payee")}, with a part for each:\n\n{string.Join("\n", parts.Select(p => $"{p.Payee.Name}: {Advice.Payment(p)}"))}\n\n";
        var (subject, text) = templates.Filled(MailKind.Advice, ("name", name), ("asof", first.AsOf.InWords()), ("payment", words));
        return outbox.Send($"advice-{run}-{payee}-{first.Payee.State.ToString().ToLowerInvariant()}", name, address, subject, text, ($"statement-{run}-{payee}.pdf", Document(run, payee)!));
    }

    /// <summary>Those who get an advice of their own.</summary>
    private string[] Payees(int run) => db.Remittances.AsNoTracking()
        .Where(r => r.RunId == run && (((r.Opening != 0 || r.Earned != 0 || r.Adjustments != 0 || r.Paid != 0) && (r.Through == null || r.Paid == 0)) || db.Remittances.Any(o => o.RunId == run && o.Through == r.Payee && o.Paid > 0)))
        .OrderBy(r => r.Payee).Select(r => r.Payee).ToArray();
}
