using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.PayRuns;

/// <summary>Notes payments made by hand, one or many, with what shows them; takes a note back until the run is closed.</summary>
public sealed class HandPayments(BookDbContext db, BookCache cache, BookClock clock, BookPlace place, PaymentDoubts doubts, AuditLog audit) : IUseCase
{
    public const int MostEvidenceBytes = 5 * 1024 * 1024;

    private const string EvidencePrefix = "evidence-";

    /// <param name="remittances">Of one run, each paid and none noted yet.</param>
    /// <param name="evidence">A file beside it, as <see cref="KeepEvidenceAsync"/> named it.</param>
    /// <exception cref="RefusedException">The run is not approved, a payment is noted already, or date or reference is missing.</exception>
    public void MarkPaid(int run, IReadOnlyCollection<int> remittances, DateOnly paidOn, string reference, string? evidence, string by)
    {
        using var transaction = db.BeginUnlessBegun();
        var record = Payable(run);
        if (remittances.Count == 0) throw new RefusedException("Mark at least one payment.", "Reference");
        if (paidOn > clock.Today) throw new RefusedException($"{paidOn.InWords()} lies ahead; give the date the money left.", "PaidOn");
        if (paidOn < record.AsOf) throw new RefusedException($"{paidOn.InWords()} is before the run's date, {record.AsOf.InWords()}.", "PaidOn");
        cache.Get(db).DemandOpen(paidOn, "PaidOn");
        if (string.IsNullOrWhiteSpace(reference)) throw new RefusedException("Give the reference under which the bank or wallet shows the payment.", "Reference");
        foreach (var remittance in db.Remittances.Where(r => r.RunId == run && remittances.Contains(r.Id)))
        {
            if (remittance.Paid == 0) throw new RefusedException("Nothing is paid to this payee in this run.");
            if (remittance.State == RemittanceState.Confirmed) throw new RefusedException($"This was marked paid on {remittance.PaidOn!.Value.InWords()} already, with reference {remittance.Reference}.");
            if (remittance.State == RemittanceState.Sent) throw new RefusedException("This payment was sent in a file; to pay it by hand too would be to pay it twice. What becomes of it is read under Results.");
            if (remittance.State != RemittanceState.Ready) throw new RefusedException("This payment did not arrive and is owed again; it is paid in another run.");
            (remittance.State, remittance.PaidOn, remittance.Reference, remittance.Evidence) = (RemittanceState.Confirmed, paidOn, reference.Trim(), evidence);
            audit.Note(by, $"mark {remittance.Payee} paid in", PayRunSteps.Name(record));
        }
        record.State = RunState.Issued;
        db.SaveChanges();
        transaction?.Commit();
    }

    /// <summary>Takes back a payment noted by mistake.</summary>
    /// <exception cref="RefusedException">The run is closed, or the bank said so and not a person.</exception>
    public void Undo(int run, int remittanceId, string by)
    {
        var record = Payable(run);
        var remittance = db.Remittances.Known(r => r.RunId == run && r.Id == remittanceId);
        if (remittance.State != RemittanceState.Confirmed) throw new RefusedException("This payment is not marked paid.");
        if (remittance.FileId is not null) throw new RefusedException("The bank or wallet said this was paid; only they can say otherwise.");
        cache.Get(db).DemandOpen(remittance.PaidOn!.Value);
        (remittance.State, remittance.PaidOn, remittance.Reference, remittance.Evidence) = (RemittanceState.Ready, null, null, null);
        audit.Note(by, $"undo the payment of {remittance.Payee} in", PayRunSteps.Name(record));
        db.SaveChanges();
    }

    /// <summary>Says that a payment made by hand has come back, before the run is closed or after. Somebody else confirms it under Results; then it is owed again.</summary>
    /// <exception cref="RefusedException">It is not known to have been paid, went in a file, or is told of already; or no reason is given.</exception>
    public void CameBack(int run, int remittanceId, string why, string by)
    {
        using var transaction = db.Database.BeginTransaction();
        var remittance = db.Remittances.Known(r => r.RunId == run && r.Id == remittanceId);
        if (remittance.State != RemittanceState.Confirmed) throw new RefusedException("This payment is not known to have been paid.");
        if (remittance.FileId is not null) throw new RefusedException("This payment went in a file; the bank's statement or the wallet says when it comes back.");
        if (string.IsNullOrWhiteSpace(why)) throw new RefusedException("Say why it came back, as the bank gives it.", "BackReason");
        if (!doubts.Raise(PaymentDoubtKind.Returned, remittance, why.Trim(), "by hand", by)) throw new RefusedException("That is told already, and waits for a second person under Results.");
        audit.Note(by, $"say that the payment of {remittance.Payee} came back in", PayRunSteps.Name(db.PayRuns.Known(r => r.Id == run)));
        db.SaveChanges();
        transaction.Commit();
    }

    /// <summary>Keeps a file that shows a payment, and gives the name it is kept under.</summary>
    /// <exception cref="RefusedException">It is empty or too large.</exception>
    public async Task<string> KeepEvidenceAsync(string fileName, Stream content, CancellationToken cancellation = default)
    {
        var name = $"{EvidencePrefix}{Guid.CreateVersion7():N}{SafeExtension(fileName)}";
        var path = Path.Combine(place.Uploads, name);
        await using (var file = File.Create(path)) await content.CopyToAsync(file, cancellation);
        if (new FileInfo(path).Length is > 0 and <= MostEvidenceBytes) return name;
        File.Delete(path);
        throw new RefusedException($"The file that shows the payment must have something in it, and at most {MostEvidenceBytes / 1024 / 1024} MB.", "Evidence");
    }

    /// <summary>The file that shows a payment; null where there is none.</summary>
    public string? EvidencePath(int run, int remittance) =>
        db.Remittances.Where(r => r.RunId == run && r.Id == remittance).Select(r => r.Evidence).FirstOrDefault() is { } name ? Path.Combine(place.Uploads, name) : null;

    private static string SafeExtension(string fileName)
    {
        var extension = Path.GetExtension(fileName).ToLowerInvariant();
        return extension is ".pdf" or ".png" or ".jpg" or ".jpeg" or ".txt" or ".csv" or ".xml" ? extension : ".bin";
    }

    private PayRunRecord Payable(int id)
    {
        var run = db.PayRuns.Known(r => r.Id == id);
        return run.State is RunState.Approved or RunState.Issued
            ? run
            : throw new RefusedException(run.State == RunState.Closed ? "This run is closed." : "A run must be approved before anything in it is paid.");
    }
}
