using System.IO.Compression;
using EvenSplit.Books;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Web.Documents;

/// <summary>Remittance advices of a run: one as a document, all in an archive, each by mail to its payee.</summary>
public sealed class Advices(Statements statements, BookDbContext db, Outbox outbox, AuditLog audit, IWebHostEnvironment environment)
{
    private readonly DocumentFonts _fonts = new(environment);

    /// <returns>Null where the run is not locked or the payee is not in it.</returns>
    public byte[]? Document(int run, string payee) => statements.Find(run, payee) is { } statement ? Advice.Draw(statement, _fonts) : null;

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

    /// <summary>Mails each payee whose address is known their advice, once a run and outcome.</summary>
    /// <returns>How many were put into the outbox now, how many payees have no address, and what is wrong with an address: it keeps no other from its mail.</returns>
    public (int Sent, int WithoutAddress, IReadOnlyList<string> Faults) Mail(int run, string by)
    {
        var addresses = db.Payees.AsNoTracking().Where(p => p.Email != null).ToDictionary(p => p.Id, p => p.Email!);
        var (sent, without) = (0, 0);
        var faults = new List<string>();
        foreach (var payee in Payees(run))
        {
            var statement = statements.Find(run, payee)!;
            if (!addresses.TryGetValue(payee, out var address))
            {
                without++;
                continue;
            }
            try
            {
                if (Send(run, payee, statement, address)) sent++;
            }
            catch (Exception fault) when (fault is RefusedException or IOException or UnauthorizedAccessException)
            {
                faults.Add($"{statement.Payee.Name}: {fault.Message}");
            }
        }
        audit.NoteAlone(by, "mail advices", $"run {run}: {sent} put into the outbox, {without} without an address, {faults.Count} not mailed");
        return (sent, without, faults);
    }

    private bool Send(int run, string payee, Statement statement, string address) => outbox.Send(
        $"advice-{run}-{payee}-{statement.Payee.State.ToString().ToLowerInvariant()}", statement.Payee.Name, address,
        $"{statement.BookName}: your statement as of {statement.AsOf.InWords()}",
        $"Dear {statement.Payee.Name},\n\n{Advice.Payment(statement)} The statement is attached; every entry on it names the order it comes from.\n\n{statement.BookName}\n",
        $"statement-{run}-{payee}.pdf", Document(run, payee)!);

    private string[] Payees(int run) => db.Remittances.AsNoTracking()
        .Where(r => r.RunId == run && (r.Opening != 0 || r.Earned != 0 || r.Adjustments != 0 || r.Paid != 0)).OrderBy(r => r.Payee).Select(r => r.Payee).ToArray();
}
