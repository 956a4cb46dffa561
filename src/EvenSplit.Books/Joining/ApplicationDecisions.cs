using EvenSplit.Books.Model;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Joining;

/// <summary>What an approval is for.</summary>
public enum ApprovalFor { Agreement, Products, Path, AllOpen }

/// <param name="Products">For chosen products.</param>
/// <param name="Path">For an offer path: its products, and those added to it later.</param>
public sealed record Approval(ApprovalFor For, IReadOnlyList<string> Products, string Path)
{
    public static Approval Whole { get; } = new(ApprovalFor.Agreement, [], "");
}

/// <summary>Decides on those who ask: approved they become payees with a code, a place on the agreement, a hold for new people, a gift, and a mail.</summary>
public sealed class ApplicationDecisions(
    BookDbContext db, BookCache cache, BookClock clock, PayeeDesk payees, AgreementDesk agreements, JoiningDesk joinings, JoiningMails mails, RulesChange rulesChange, AuditLog audit) : IUseCase
{
    /// <summary>Approves several, all or none.</summary>
    /// <param name="site">Where this application is reached.</param>
    /// <exception cref="RefusedException">One is decided already, nothing was chosen, or somebody cannot be put on the agreement.</exception>
    public void Approve(IReadOnlyList<int> ids, Approval approval, string by, string site)
    {
        if (ids.Count == 0) throw new RefusedException("Choose whom to approve.");
        var welcomed = new List<ApplicationRecord>();
        using (var change = rulesChange.Begin())
        {
            foreach (var id in ids.Distinct().Order()) welcomed.Add(Take(Undecided(id), approval, by));
            change.Commit();
        }
        foreach (var application in welcomed) Welcome(application, site);
    }

    /// <exception cref="RefusedException">One is decided already, or no reason is given.</exception>
    public void Decline(IReadOnlyList<int> ids, string reason, string by)
    {
        if (ids.Count == 0) throw new RefusedException("Choose whom to decline.");
        if (reason.Trim().Length == 0) throw new RefusedException("Say why; they read it.", "Reason");
        using var transaction = db.Database.BeginTransaction();
        var declined = ids.Distinct().Order().Select(Undecided).ToArray();
        foreach (var application in declined)
        {
            (application.State, application.Reason, application.DecidedBy, application.DecidedAt) = (ApplicationState.Declined, reason.Trim(), by, clock.GetUtcNow());
            audit.Note(by, "decline", $"{application.Name}, {application.AgreementId}: {application.Reason}");
        }
        db.SaveChanges();
        transaction.Commit();
        foreach (var application in declined) mails.Decline(application, cache.Get(db).AgreementName(application.AgreementId));
    }

    /// <summary>Asks something before deciding. They answer by a link of their own.</summary>
    public void AskBack(int id, string question, string by, string site)
    {
        if (question.Trim().Length == 0) throw new RefusedException("Write what you would like to know.", "Reason");
        using var transaction = db.Database.BeginTransaction();
        var application = Undecided(id);
        var token = Applying.NewToken();
        (application.State, application.Reason, application.TokenHash) = (ApplicationState.AskedBack, question.Trim(), Applying.HashOf(token));
        audit.Note(by, "ask back", $"{application.Name}, {application.AgreementId}: {application.Reason}");
        db.SaveChanges();
        transaction.Commit();
        mails.AskBack(application, cache.Get(db).AgreementName(application.AgreementId), $"{site}/apply/answer?token={token}");
    }

    /// <summary>Approves all requests of a payee from now on, or no longer.</summary>
    public void Trust(string payee, bool doSo, string by)
    {
        var record = db.TrustedPayees.FirstOrDefault(t => t.Payee == payee);
        if (record is null == !doSo) return;
        if (record is null) db.TrustedPayees.Add(new TrustedPayeeRecord { Payee = payee, By = by, At = clock.GetUtcNow() });
        else db.TrustedPayees.Remove(record);
        audit.Note(by, doSo ? "approve all requests from now on" : "look at each request again", payee);
        db.SaveChanges();
    }

    /// <summary>Approves where nobody has to look: the agreement takes whoever asks, or all requests of this payee are approved.</summary>
    /// <returns>Whether they are in.</returns>
    internal bool AtOnce(int id, string site)
    {
        var application = db.Applications.Single(a => a.Id == id);
        var trust = PayeeOf(application) is { } payee ? db.TrustedPayees.AsNoTracking().FirstOrDefault(t => t.Payee == payee.Id) : null;
        var joining = joinings.Of(application.AgreementId);
        if (joining.PausedOn is not null || (trust is null && joining.Way != JoiningWay.AtOnce)) return false;
        try
        {
            Approve([id], Approval.Whole, trust is null ? "at once" : $"{trust.By}, once for all", site);
            return true;
        }
        catch (RefusedException)
        {
            // Somebody has to look after all: they are on another agreement, or on this one.
            db.ChangeTracker.Clear();
            return false;
        }
    }

    /// <summary>Makes a payee of somebody who was invited, and puts them on; the caller has begun a change of rules.</summary>
    internal ApplicationRecord Take(ApplicationRecord application, Approval approval, string by)
    {
        var joining = joinings.Of(application.AgreementId);
        var known = PayeeOf(application);
        var payee = known?.Id ?? Enter(application, joining, by);
        PutOn(application.AgreementId, payee, known is null, approval, by);
        if (approval.For == ApprovalFor.AllOpen) PutOnOthers(application.AgreementId, payee, by);
        if (known is null)
        {
            if (joining.HoldDays is not null) db.NewPayees.Add(new NewPayeeRecord { Payee = payee, AgreementId = application.AgreementId, Since = clock.Today });
            Give(payee, joining, by);
        }
        if (application.VersionId is { } version && !db.Acceptances.Any(a => a.VersionId == version && a.Payee == payee))
        {
            db.Acceptances.Add(new AcceptanceRecord
            {
                VersionId = version,
                Payee = payee,
                AcceptedOn = cache.Get(db).Time.DateOf(application.AskedAt),
                Note = $"as they asked to take part, from {application.From}",
                RecordedBy = application.Name,
                RecordedAt = application.AskedAt,
            });
        }
        (application.State, application.Payee, application.Reason, application.DecidedBy, application.DecidedAt) = (ApplicationState.Approved, payee, "", by, clock.GetUtcNow());
        audit.Note(by, "approve", $"{application.Name}, {application.AgreementId}");
        return application;
    }

    internal void Welcome(ApplicationRecord application, string site)
    {
        var book = cache.Get(db);
        var code = db.PayeeCodes.AsNoTracking().Where(c => c.PayeeId == application.Payee).OrderBy(c => c.Id).Select(c => c.Code).FirstOrDefault();
        mails.Welcome(application, joinings.Of(application.AgreementId), book.AgreementName(application.AgreementId), code, $"{site}/go/{application.Payee}", book.Rules.Agreement(new AgreementId(application.AgreementId)).Currency);
    }

    /// <summary>Who has the address already.</summary>
    internal PayeeRecord? PayeeOf(ApplicationRecord application) => db.Payees.AsNoTracking().Where(p => p.Email != null && p.Email.ToLower() == application.Email).OrderBy(p => p.Position).FirstOrDefault();

    private ApplicationRecord Undecided(int id)
    {
        var application = db.Applications.Known(a => a.Id == id);
        return application.State switch
        {
            ApplicationState.Waiting or ApplicationState.AskedBack => application,
            ApplicationState.Unconfirmed => throw new RefusedException($"{application.Name} has not shown yet that the address is theirs."),
            _ => throw new RefusedException($"{application.DecidedBy} has decided on {application.Name} already."),
        };
    }

    private string Enter(ApplicationRecord application, JoiningRecord joining, string by)
    {
        var agreement = cache.Get(db).Rules.Agreement(new AgreementId(application.AgreementId));
        var (id, faults) = payees.Save(null, new PayeeDraft
        {
            Name = application.Name,
            Role = agreement.Basis switch { Basis.Contribution => PayeeRole.Collaborator, Basis.Supply => PayeeRole.Vendor, _ => PayeeRole.Affiliate },
            Email = application.Email,
            PayoutCurrency = agreement.Currency.Code,
            ActiveFrom = clock.Today,
            Codes = agreement.Basis == Basis.Referral ? FreeCode(application.Name) : "",
            HoldDays = joining.HoldDays,
            // Where the shop knows its buyers by their address, orders of their own bring them nothing.
            CustomerKeys = db.Orders.Any(o => o.CustomerKey == application.Email) ? application.Email : "",
        }, by, isPutOnDefault: false);
        return id ?? throw new RefusedException(string.Join(" ", faults.Select(f => f.Message)));
    }

    /// <summary>Letters of the name in capitals, with a number where somebody has them.</summary>
    private string FreeCode(string name)
    {
        const int longest = 12;
        var letters = new string([.. name.ToUpperInvariant().Where(char.IsAsciiLetterOrDigit).Take(longest)]);
        if (letters.Length < 3) letters = "FRIEND";
        var code = letters;
        bool IsTaken(string c) => db.PayeeCodes.Any(k => k.Code == c) || db.PayeeCodes.Local.Any(k => CouponCode.Normal(k.Code) == c) || db.CustomerCodes.Any(k => k.Code == c);
        for (var i = 2; IsTaken(code); i++) code = $"{letters}{i}";
        return code;
    }

    private void PutOn(string agreement, string payee, bool isNew, Approval approval, string by)
    {
        var products = ProductsOf(approval);
        if (approval.For == ApprovalFor.Path && !db.PathApprovals.Any(p => p.Payee == payee && p.AgreementId == agreement && p.PathId == approval.Path))
        {
            db.PathApprovals.Add(new PathApprovalRecord { Payee = payee, AgreementId = agreement, PathId = approval.Path });
        }
        var from = FirstDay(agreement, isNew);
        if (isNew)
        {
            agreements.Join(agreement, payee, from, by, products);
            return;
        }
        var on = db.Memberships.FirstOrDefault(m => m.PayeeId == payee && m.AgreementId == agreement && (m.To == null || m.To > from));
        if (on is null) agreements.PutOn(agreement, payee, from, by, products);
        else if (on.Products is { } held) agreements.ApproveFor(on.Id, products is null ? null : [.. held.Union(products)], from, by);
        else throw new RefusedException($"{cache.Get(db).PayeeName(payee)} takes part in all of it already.");
    }

    /// <summary>
    /// Somebody new brings orders from today, by a code that nobody has used. Any other place begins tomorrow: orders of today are worked out already, and what they have
    /// earned others does not change because somebody joins.
    /// </summary>
    private DateOnly FirstDay(string agreement, bool isNew) => isNew && cache.Get(db).Rules.Agreement(new AgreementId(agreement)).Basis == Basis.Referral ? clock.Today : clock.Today.AddDays(1);

    /// <summary>What an approval is for; null for all products.</summary>
    private List<string>? ProductsOf(Approval approval)
    {
        if (approval.For == ApprovalFor.Products) return approval.Products.Count > 0 ? [.. approval.Products] : throw new RefusedException("Choose the products.", "Products");
        if (approval.For != ApprovalFor.Path) return null;
        var steps = db.OfferPaths.AsNoTracking().Where(p => p.Id == approval.Path).SelectMany(p => p.Steps).Select(s => s.Product).Distinct().ToList();
        return steps.Count > 0 ? steps : throw new RefusedException("Choose an offer path.", "Path");
    }

    /// <summary>Onto every other agreement that takes new people; of those earned on orders brought one at a time may be in force, so that they are passed over.</summary>
    private void PutOnOthers(string agreement, string payee, string by)
    {
        var (rules, today) = (cache.Get(db).Rules, clock.Today);
        foreach (var other in db.Joinings.AsNoTracking().Where(j => j.Way != JoiningWay.Nobody && j.PausedOn == null && j.AgreementId != agreement).Select(j => j.AgreementId).AsEnumerable().Order(StringComparer.Ordinal).ToArray())
        {
            if (rules.Agreement(new AgreementId(other)).Basis == Basis.Referral && rules.Agreement(new AgreementId(agreement)).Basis == Basis.Referral) continue;
            if (db.Memberships.Any(m => m.PayeeId == payee && m.AgreementId == other && (m.To == null || m.To > today))) continue;
            agreements.Join(other, payee, today.AddDays(1), by);
        }
    }

    /// <summary>What they get as they join; goods are noted for the house, and nobody is owed for them.</summary>
    private void Give(string payee, JoiningRecord joining, string by)
    {
        if (joining.Gift == GiftKind.None) return;
        var currency = cache.Get(db).Rules.Agreement(new AgreementId(joining.AgreementId)).Currency;
        var amount = new Money(joining.GiftAmount, currency);
        if (joining.Gift == GiftKind.Advance) db.Advances.Add(new AdvanceRecord { PayeeId = payee, Reference = "1", On = clock.Today, Amount = amount.Minor, Note = joining.GiftNote });
        else if (joining.Gift == GiftKind.Bonus)
        {
            db.Adjustments.Add(new AdjustmentRecord { Reference = $"joined-{payee}", Payee = payee, On = clock.Today, Amount = amount.Minor, Currency = currency.Code, Kind = AdjustmentKind.Bonus, Note = joining.GiftNote, By = by });
        }
        else if (joining.Gift == GiftKind.Goods)
        {
            db.GivenGoods.Add(new GivenGoodsRecord { Payee = payee, AgreementId = joining.AgreementId, On = clock.Today, Cost = amount.Minor, Currency = currency.Code, Note = joining.GiftNote });
        }
        audit.Note(by, $"give {joining.Gift.ToString().ToLowerInvariant()} worth {amount.InWords()}", $"{payee}: {joining.GiftNote}");
    }
}
