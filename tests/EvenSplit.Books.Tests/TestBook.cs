using System.Text;
using EvenSplit.Books.Catalogue;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Books.Tests;

/// <summary>A small book in a folder of its own, on a clock the test moves: two guides, an affiliate with a code, an illustrator.</summary>
internal sealed class TestBook : BookOnDisk
{
    public const string Lead = "Lena", Approver = "Aron";

    private const string OrderHeader = "order_id,channel,placed_at,paid_at,currency,coupon_codes,origin_order,line_id,product,quantity,unit_price,test";

    public TestBook()
    {
        Do<OpenBook>(o => o.Open("Test book", "EUR", "Europe/Dublin", Lead, new DateOnly(2026, 10, 1)));
        foreach (var id in new[] { "guide", "print" })
        {
            Do<ProductDesk>(p => Assert.Empty(p.Save(null, new ProductDraft { Id = id, Name = "The " + id, Price = "24.00" }, Lead)));
        }
        AddPayee("Anna", PayeeRole.Affiliate, "ANNA");
        AddPayee("Ines", PayeeRole.Collaborator, "");
        Publish(Draft("Friends", Basis.Referral, "10"));
        Publish(Draft("Art", Basis.Contribution, "20"));
        PutOn("friends", "anna");
        PutOn("art", "ines");
        Recalculate();
    }

    public static AgreementDraft Draft(string name, Basis basis, string percent, int hold = 0, DateOnly? from = null) => new()
    {
        Name = name,
        Basis = basis,
        Currency = "EUR",
        From = from ?? new DateOnly(2026, 1, 1),
        HoldDays = hold,
        Terms = [new TermDraft { Cases = [new CaseDraft { Percent = percent }] }],
    };

    public static string Row(
        string order, string day = "2026-10-05", string code = "", string product = "guide", string price = "100.00", string line = "1", string quantity = "1", string origin = "", bool paid = true) =>
        $"{order},shop,{day}T12:00:00Z,{(paid ? day + "T12:00:00Z" : "")},EUR,{code},{origin},{line},{product},{quantity},{price},";

    public ImportRecord ImportOrders(params string[] rows) => Import(ImportKind.Orders, OrderHeader, rows);

    public ImportRecord ImportRefunds(params string[] rows) => Import(ImportKind.Refunds, "refund_id,order_id,at,kind,line_id,quantity,goods,tax", rows);

    public int Queue(ImportKind kind, string csv) =>
        Get<ImportFiles, int>(files => files.QueueAsync(kind, "file.csv", new MemoryStream(Encoding.UTF8.GetBytes(csv)), Lead).GetAwaiter().GetResult());

    public int QueueOrders(params string[] rows) => Queue(ImportKind.Orders, string.Join('\n', rows.Prepend(OrderHeader)) + "\n");

    public ImportRecord Read(int import, CancellationToken cancellation = default) => Get<ReadImport, ImportRecord>(read => read.Run(import, null, cancellation));

    public void Publish(AgreementDraft draft, string? id = null) => Do<AgreementDesk>(desk => Assert.Empty(desk.Publish(id, draft, Lead).Faults));

    public void PutOn(string agreement, string payee) => Do<AgreementDesk>(desk => desk.PutOn(agreement, payee, new DateOnly(2026, 1, 1), Lead));

    /// <summary>Gathers, locks and approves a run as of a date.</summary>
    public RunView Pay(DateOnly asOf)
    {
        var id = Get<PayRunSteps, int>(s => s.Gather(asOf, Lead));
        Do<PayRunSteps>(s => s.Lock(id, Lead));
        Approve(id);
        return Run(id);
    }

    /// <summary>Looks at everything unusual and approves, with the control sums as they stand.</summary>
    public void Approve(int run)
    {
        Do<PayRunSteps>(s => s.LookAt(run, null, Approver));
        Do<PayRunSteps>(s => s.Approve(run, Run(run).ControlText, Approver));
    }

    public RunView Run(int id) => Get<PayRunDesk, RunView>(d => d.Find(id)!);

    public void MarkPaid(RunView run, string payee, DateOnly on, string reference) =>
        Do<HandPayments>(h => h.MarkPaid(run.Id, [run.Rows.Single(r => r.Payee == payee).Id!.Value], on, reference, null, Lead));

    public Remittance In(RunView run, string payee) => run.Rows.Single(r => r.Payee == payee).Figures;

    /// <summary>What all entries of a payee come to.</summary>
    public long Owed(string payee) => Get<BookDbContext, long>(db => db.Entries.Where(e => e.Payee == payee).Sum(e => e.Amount));

    public ImportRecord Import(ImportKind kind, string header, string[] rows) => Read(Queue(kind, string.Join('\n', rows.Prepend(header)) + "\n"));

    public void AddPayee(string name, PayeeRole role, string codes) => Do<PayeeDesk>(desk => Assert.Empty(desk.Save(null, new PayeeDraft
    {
        Name = name,
        Role = role,
        PayoutCurrency = "EUR",
        ActiveFrom = new DateOnly(2026, 1, 1),
        Codes = codes,
    }, Lead).Faults));
}
