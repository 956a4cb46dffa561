using System.Text;
using System.Xml.Linq;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Journal;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>From the locked run to money received, or not: marks, approval, issuing, what banks answer, and what is owed again.</summary>
public sealed class PaymentTests : IDisposable
{
    private const string AnnasIban = "IE29AIBK93115212345678", InesIban = "DE89370400440532013000", HouseIban = "GB82WEST12345698765432";

    private static readonly DateOnly October = new(2026, 10, 31), Today = new(2026, 11, 3);

    private readonly TestBook _book = new();

    public PaymentTests()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", "2026-10-30"));
        Assert.Empty(_book.Get<PayingAccounts, IReadOnlyList<FieldFault>>(a => a.Save("EUR", "Test book", HouseIban, "WESTGB2L", Lead)));
        Propose("anna", AnnasIban);
        Confirm();
        _book.MoveTo(Today);
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_run_is_issued_as_a_payment_order_once_and_what_has_no_details_is_listed()
    {
        var run = _book.Pay(October);
        Assert.Equal(1, Issue(run));
        Assert.Throws<RefusedException>(() => Issue(run));
        var rows = _book.Run(run.Id).Rows;
        Assert.Equal((RemittanceState.Sent, RemittanceState.Ready), (rows.Single(r => r.Payee == "anna").State, rows.Single(r => r.Payee == "ines").State));
        var files = _book.Get<IssueRun, IReadOnlyList<PaymentFileRecord>>(i => i.FilesOf(run.Id));
        Assert.Equal([(PayoutMethod.Bank, 1, 1000L), (PayoutMethod.ByHand, 1, 4000L)], files.Select(f => (f.Method, f.Payments, f.Sum)));
        var order = XDocument.Parse(Content(run, files[0]));
        string Only(string name) => order.Descendants().Single(e => e.Name.LocalName == name).Value;
        Assert.Equal(("10.00", Reference("anna"), "2026-11-03"), (Only("InstdAmt"), Only("EndToEndId"), Only("ReqdExctnDt")));
        Assert.Equal([HouseIban, AnnasIban], order.Descendants().Where(e => e.Name.LocalName == "IBAN").Select(e => e.Value));
        Assert.Contains("Ines,40.00,EUR", Content(run, files[1]));
    }

    [Fact]
    public void Files_are_handed_over_the_same_however_often_the_process_stops_on_the_way()
    {
        var run = _book.Pay(October);
        Issue(run);
        var inFolder = Path.Combine(_book.Place.Bank, "in");
        Assert.Equal(1, _book.Get<IssueRun, int>(i => i.Deliver()));
        var file = Assert.Single(Directory.GetFiles(inFolder));
        var first = File.ReadAllText(file);
        // As if it had stopped after the file was laid down and before that was noted.
        _book.Do<BookDbContext>(db => db.PaymentFiles.ExecuteUpdate(set => set.SetProperty(f => f.DeliveredAt, (DateTimeOffset?)null)));
        Assert.Equal(1, _book.Get<IssueRun, int>(i => i.Deliver()));
        Assert.Equal(first, File.ReadAllText(Assert.Single(Directory.GetFiles(inFolder))));
        Assert.Equal(0, _book.Get<IssueRun, int>(i => i.Deliver()));
    }

    [Fact]
    public void Issuing_that_fails_on_the_way_issues_nothing()
    {
        var run = _book.Pay(October);
        _book.Do<BookDbContext>(db => db.PayingAccounts.ExecuteDelete());
        Assert.Equal("Payments in EUR have no account to leave from; name one under Schedules and accounts.", Assert.Throws<RefusedException>(() => Issue(run)).Message);
        Assert.Equal((0, 0, RunState.Approved), _book.Get<BookDbContext, (int, int, RunState)>(db => (db.PaymentFiles.Count(), db.Remittances.Count(r => r.EndToEnd != null), db.PayRuns.Single().State)));
    }

    [Fact]
    public async Task Of_two_who_issue_at_once_one_does()
    {
        var run = _book.Pay(October);
        var issued = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(() =>
        {
            try
            {
                return Issue(run);
            }
            catch (RefusedException)
            {
                return 0;
            }
        })));
        Assert.Equal(1, issued.Sum());
        Assert.Equal(2, _book.Get<BookDbContext, int>(db => db.PaymentFiles.Count()));
    }

    [Fact]
    public void What_was_sent_in_a_file_is_not_paid_by_hand_too()
    {
        var run = _book.Pay(October);
        Issue(run);
        Assert.Contains("pay it twice", Assert.Throws<RefusedException>(() => _book.MarkPaid(run, "anna", Today, "T-1")).Message);
        Assert.Equal(RemittanceState.Sent, State("anna"));
        _book.MarkPaid(run, "ines", Today, "T-2");
        Assert.Equal(RemittanceState.Confirmed, State("ines"));
    }

    [Fact]
    public void Refunds_over_the_limit_by_orders_alone_are_marked_while_gathering_as_at_the_lock()
    {
        _book.ImportOrders(Row("C", "2026-10-06", "ANNA"));
        _book.ImportRefunds("R1,C,2026-10-20T10:00:00Z,refund,1,0,1.00,0");
        var id = _book.Get<PayRunSteps, int>(s => s.Gather(October, Lead));
        string Says() => _book.Run(id).Rows.Single(r => r.Payee == "anna").Marks.Single(m => m.Mark == RunMark.RefundRate).Says;
        const string expected = "0.5 % of the money and 50 % of the orders of six months went back.";
        Assert.Equal(expected, Says());
        _book.Do<PayRunSteps>(s => s.Lock(id, Lead));
        Assert.Equal(expected, Says());
    }

    [Fact]
    public void A_refused_payment_is_owed_again_at_once_and_its_details_are_to_be_looked_at()
    {
        var run = _book.Pay(October);
        Issue(run);
        var report = Report("RJCT", "<StsRsnInf><Rsn><Cd>AC04</Cd></Rsn><AddtlInf>The account is closed</AddtlInf></StsRsnInf>");
        Assert.Equal((0, 1, 0), Read("r.xml", report));
        Assert.Throws<RefusedException>(() => Upload("r.xml", report));
        var row = _book.Run(run.Id).Rows.Single(r => r.Payee == "anna");
        Assert.Equal((RemittanceState.Refused, "The account is closed (AC04)"), (row.State, row.Why));
        var owed = Assert.Single(_book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Of("anna")));
        Assert.Equal((1000L, AdjustmentKind.Returned), (owed.Amount, owed.Kind));
        Assert.Throws<RefusedException>(() => _book.Do<Adjustments>(a => a.TakeBack(owed.Id, Lead)));
        var again = _book.Get<PayRunSteps, int>(s => s.Gather(Today, ["anna"], Lead));
        Assert.Contains(RunMark.DetailsCameBack, _book.Run(again).Rows.Single().Marks.Select(m => m.Mark));
        _book.Do<PayRunSteps>(s => s.Lock(again, Lead));
        Assert.Equal((1000L, null), (_book.Run(again).Rows.Single().Figures.Paid, _book.Run(again).Rows.Single().Shown));
    }

    [Fact]
    public void A_payment_the_statement_returns_after_it_was_confirmed_is_owed_again()
    {
        var run = _book.Pay(October);
        Issue(run);
        Assert.Equal((1, 0, 0), Read("s.xml", Report("ACSC", "")));
        Assert.Equal((RemittanceState.Confirmed, Reference("anna")), (State("anna"), _book.Run(run.Id).Rows.Single(r => r.Payee == "anna").Reference));
        Assert.Throws<RefusedException>(() => _book.Do<HandPayments>(h => h.Undo(run.Id, _book.Run(run.Id).Rows.Single(r => r.Payee == "anna").Id!.Value, Lead)));
        Assert.Equal((0, 0, 1), Read("c.xml", Statement("CRDT", "10.00", "<RtrInf><Rsn><Cd>AC06</Cd></Rsn></RtrInf>")));
        Assert.Equal((RemittanceState.Returned, 1000L), (State("anna"), _book.Get<Adjustments, IReadOnlyList<AdjustmentRecord>>(a => a.Of("anna")).Single().Amount));
    }

    [Fact]
    public void A_message_with_another_amount_or_no_message_at_all_is_refused_and_nothing_of_it_taken()
    {
        var run = _book.Pay(October);
        Issue(run);
        Assert.Contains("is none of the accounts", Assert.Throws<RefusedException>(() => Upload("c.xml", Statement("DBIT", "10.00", "").Replace(HouseIban, InesIban, StringComparison.Ordinal))).Message);
        Assert.Contains("neither a payment status report", Assert.Throws<RefusedException>(() => Upload("x.xml", "<Document><Other/></Document>")).Message);
        Assert.Contains("not sound XML", Assert.Throws<RefusedException>(() => Upload("x.xml", "<!DOCTYPE a [<!ENTITY b SYSTEM \"file:///etc/passwd\">]><a>&b;</a>")).Message);
        Assert.Contains("deep", Assert.Throws<RefusedException>(() => Upload("x.xml", string.Concat(Enumerable.Repeat("<a>", 500)) + string.Concat(Enumerable.Repeat("</a>", 500)))).Message);
        Assert.Equal(RemittanceState.Sent, State("anna"));
        Assert.Equal("ES-000000-9", _book.Get<PaymentResults, string>(r => r.Read("w.csv", "reference,status\nES-000000-9,paid\n"u8.ToArray(), Lead).Unknown));
    }

    [Fact]
    public void Answers_in_the_folder_are_fetched_and_what_cannot_be_read_goes_aside_with_its_fault()
    {
        var run = _book.Pay(October);
        Issue(run);
        var folder = Directory.CreateDirectory(Path.Combine(_book.Place.Bank, "out")).FullName;
        File.WriteAllText(Path.Combine(folder, "a.xml"), Report("ACSC", ""));
        File.WriteAllText(Path.Combine(folder, "b.xml"), "no answer");
        Assert.Equal(2, _book.Get<PaymentResults, int>(r => r.Fetch()));
        Assert.Equal(RemittanceState.Confirmed, State("anna"));
        Assert.Empty(Directory.GetFiles(folder));
        Assert.True(File.Exists(Path.Combine(_book.Place.Bank, "refused", "b.xml.fault")));
        Assert.Equal("b.xml", Assert.Single(_book.Get<PaymentResults, IReadOnlyList<(string File, string Fault)>>(r => r.PutAside())).File);
        // As if it had stopped after reading and before moving the file.
        File.WriteAllText(Path.Combine(folder, "a.xml"), Report("ACSC", ""));
        _book.Do<PaymentResults>(r => r.Fetch());
        Assert.True(File.Exists(Path.Combine(_book.Place.Bank, "read", "a.xml")));
        Assert.False(File.Exists(Path.Combine(_book.Place.Bank, "refused", "a.xml")));
    }

    [Fact]
    public void What_is_unusual_is_looked_at_before_approval_and_the_sums_are_those_that_were_seen()
    {
        var id = Lock();
        Assert.Equal([RunMark.FirstPayment, RunMark.NoTaxForm], _book.Run(id).Rows.Single(r => r.Payee == "anna").Marks.Select(m => m.Mark));
        var sums = _book.Run(id).ControlText;
        Assert.Equal("EUR:2:5000", sums);
        Assert.Contains("not looked at yet", Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Approve(id, sums, Approver))).Message);
        _book.Do<PayRunSteps>(s => s.LookAt(id, null, Approver));
        Assert.Contains("changed since", Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Approve(id, "EUR:2:4999", Approver))).Message);
        _book.Do<PayRunSteps>(s => s.Approve(id, sums, Approver));
    }

    [Fact]
    public void A_payment_set_aside_takes_the_approval_back_and_is_owed_again()
    {
        var run = _book.Pay(October);
        var anna = run.Rows.Single(r => r.Payee == "anna").Id!.Value;
        Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.SetAside(run.Id, anna, " ", Lead)));
        _book.Do<PayRunSteps>(s => s.SetAside(run.Id, anna, "Under inquiry", Lead));
        Assert.Equal((RunState.Locked, "EUR:1:4000"), (_book.Run(run.Id).State, _book.Run(run.Id).ControlText));
        Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Unlock(run.Id, "again", Lead)));
        _book.Approve(run.Id);
        Assert.Equal(0, Issue(run));
        _book.MoveTo(new DateOnly(2026, 11, 30));
        Assert.Equal(1000, _book.In(_book.Pay(new DateOnly(2026, 11, 30)), "anna").Adjustments);
    }

    [Fact]
    public void Unlocking_gives_everything_back_and_locking_again_takes_the_same_and_what_came_since()
    {
        _book.Do<Adjustments>(a => a.Add("anna", new DateOnly(2026, 10, 20), "2.50", "EUR", AdjustmentKind.Bonus, "Launch", Lead));
        var id = Lock();
        var sums = _book.Run(id).ControlText;
        var open = OpenSums();
        Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Unlock(id, "", Lead)));
        _book.Do<PayRunSteps>(s => s.Unlock(id, "A fee was missing", Approver));
        Assert.NotEqual(open, OpenSums());
        Assert.Equal((RunState.Gathering, 0), (_book.Run(id).State, _book.Get<BookDbContext, int>(db => db.Entries.Count(e => e.RunId != null) + db.Adjustments.Count(a => a.RunId != null) + db.Remittances.Count())));
        // A hold may have changed meanwhile: what the run had taken is worked out again first.
        Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Lock(id, Lead)));
        _book.Recalculate();
        _book.Do<PayRunSteps>(s => s.Lock(id, Lead));
        Assert.Equal((sums, open), (_book.Run(id).ControlText, OpenSums()));
        // Whoever unlocked it has prepared it.
        Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.LookAt(id, null, Approver)));
        _book.Do<PayRunSteps>(s => s.LookAt(id, null, "Third"));
        Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Approve(id, sums, Approver)));
        _book.Do<PayRunSteps>(s => s.Approve(id, sums, "Third"));
        Assert.Throws<RefusedException>(() => _book.Do<PayRunSteps>(s => s.Unlock(id, "too late", Lead)));
    }

    [Fact]
    public void A_change_of_details_needs_a_second_person_and_waits_two_days()
    {
        const string other = "IE64IRCE92050112345678";
        Propose("anna", other);
        var waiting = Assert.Single(_book.Get<PayoutDetails, IReadOnlyList<PayoutDetailsRecord>>(d => d.Waiting()));
        Assert.Equal("IE…5678", waiting.Shown);
        Assert.Throws<RefusedException>(() => _book.Do<PayoutDetails>(d => d.Confirm(waiting.Id, Lead)));
        _book.Do<PayoutDetails>(d => d.Confirm(waiting.Id, Approver));
        var run = _book.Pay(October);
        Issue(run);
        Assert.Contains(AnnasIban, Content(run, Files(run)[0]));
        _book.ImportOrders(Row("C", "2026-11-04", "ANNA"));
        _book.MoveTo(new DateOnly(2026, 11, 5));
        var next = _book.Pay(new DateOnly(2026, 11, 5));
        Assert.Contains(RunMark.NewDetails, next.Rows.Single(r => r.Payee == "anna").Marks.Select(m => m.Mark));
        Issue(next);
        Assert.Contains(other, Content(next, Files(next)[0]));
    }

    [Fact]
    public void Details_lie_encrypted_in_the_book()
    {
        var details = _book.Get<BookDbContext, PayoutDetailsRecord>(db => db.PayoutDetails.Single());
        Assert.DoesNotContain(AnnasIban, System.Text.Encoding.UTF8.GetString(details.Protected));
        Assert.Equal(AnnasIban, _book.Get<Sealed, string>(s => s.Account(details).Iban));
    }

    [Theory]
    [InlineData("IE29AIBK93115212345679", "Iban", "The check digits do not fit: a character is wrong, or two are the wrong way round.")]
    [InlineData("IE29AIBK9311521234567", "Iban", "An IBAN of IE has 22 characters; this one has 21.")]
    [InlineData("XX29AIBK93115212345678", "Iban", "No country with IBANs has the letters XX.")]
    public void A_wrong_account_number_is_told_where_it_is_typed(string iban, string field, string words)
    {
        var faults = _book.Get<PayoutDetails, IReadOnlyList<FieldFault>>(d => d.Propose("ines", new PayoutDetailsDraft { Holder = "Ines", Iban = iban, Bic = "AIBKIE2D" }, Lead));
        Assert.Equal([new FieldFault(field, words)], faults);
    }

    [Fact]
    public void The_journal_of_a_run_balances_in_every_transaction()
    {
        _book.Do<Adjustments>(a => a.Add("anna", new DateOnly(2026, 10, 20), "2.50", "EUR", AdjustmentKind.Bonus, "Launch", Lead));
        var run = _book.Pay(October);
        Issue(run);
        Read("r.xml", Report("RJCT", ""));
        var journal = _book.Get<RunJournal, string>(j => j.Write(run.Id)!);
        Assert.Contains("Liabilities:Came back:anna  -12.50 EUR", journal);
        foreach (var transaction in journal.Split("\n\n", StringSplitOptions.RemoveEmptyEntries).Where(t => t.Contains(" | ", StringComparison.Ordinal)))
        {
            Assert.Equal(0, transaction.Split('\n').Skip(1).Where(l => l.StartsWith("    ", StringComparison.Ordinal) && !l.TrimStart().StartsWith(';')).Select(l => decimal.Parse(l.Trim().Split("  ")[1].Split(' ')[0], System.Globalization.CultureInfo.InvariantCulture)).Sum());
        }
    }

    private int Issue(RunView run) => _book.Get<IssueRun, int>(i => i.Issue(run.Id, Lead));

    private IReadOnlyList<PaymentFileRecord> Files(RunView run) => _book.Get<IssueRun, IReadOnlyList<PaymentFileRecord>>(i => i.FilesOf(run.Id));

    private string Content(RunView run, PaymentFileRecord file) => _book.Get<IssueRun, string>(i => i.File(run.Id, file.Id)!.Value.Content);

    private int Lock()
    {
        var id = _book.Get<PayRunSteps, int>(s => s.Gather(October, Lead));
        _book.Do<PayRunSteps>(s => s.Lock(id, Lead));
        return id;
    }

    private void Propose(string payee, string iban) =>
        Assert.Empty(_book.Get<PayoutDetails, IReadOnlyList<FieldFault>>(d => d.Propose(payee, new PayoutDetailsDraft { Holder = payee, Iban = iban, Bic = "AIBKIE2D" }, Lead)));

    private void Confirm() => _book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, Approver));

    private RemittanceState State(string payee) => _book.Get<BookDbContext, RemittanceState>(db => db.Remittances.Single(r => r.Payee == payee && r.Paid > 0).State);

    private string Reference(string payee) => _book.Get<BookDbContext, string>(db => db.Remittances.Single(r => r.Payee == payee && r.Paid > 0).EndToEnd!);

    private string OpenSums() => _book.Get<BookDbContext, string>(db => string.Join(' ', db.OpenSums.OrderBy(s => s.Payee).ThenBy(s => s.ClearsOn).Select(s => $"{s.Payee}:{s.ClearsOn}:{s.Amount}")));

    /// <summary>As the bank lays it into its folder.</summary>
    private (int, int, int) Read(string name, string text)
    {
        File.WriteAllText(Path.Combine(Directory.CreateDirectory(Path.Combine(_book.Place.Bank, "out")).FullName, name), text);
        _book.Do<PaymentResults>(r => r.Fetch());
        return _book.Get<PaymentResults, (int, int, int)>(r => r.Latest()[0] is var m ? (m.Confirmed, m.Refused, m.Returned) : default);
    }

    private void Upload(string name, string text) => _book.Do<PaymentResults>(r => r.Read(name, Encoding.UTF8.GetBytes(text), Lead));

    private string Report(string status, string why) =>
        $"""
        <Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.03"><CstmrPmtStsRpt><GrpHdr><MsgId>STS-{status}</MsgId><CreDtTm>2026-11-03T18:00:00Z</CreDtTm></GrpHdr>
        <OrgnlPmtInfAndSts><TxInfAndSts><OrgnlEndToEndId>{Reference("anna")}</OrgnlEndToEndId><TxSts>{status}</TxSts>{why}</TxInfAndSts></OrgnlPmtInfAndSts></CstmrPmtStsRpt></Document>
        """;

    private string Statement(string direction, string amount, string why) =>
        $"""
        <Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>ST-{direction}</MsgId></GrpHdr><Stmt><Id>1</Id><Acct><Id><IBAN>{HouseIban}</IBAN></Id></Acct><Ntry><Amt Ccy="EUR">{amount}</Amt>
        <CdtDbtInd>{direction}</CdtDbtInd><BookgDt><Dt>2026-11-05</Dt></BookgDt><NtryDtls><TxDtls><Refs><EndToEndId>{Reference("anna")}</EndToEndId></Refs>{why}</TxDtls></NtryDtls></Ntry></Stmt></BkToCstmrStmt></Document>
        """;
}
