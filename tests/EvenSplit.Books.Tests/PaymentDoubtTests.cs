using System.Text;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Model;
using EvenSplit.Books.Payouts;
using EvenSplit.Books.PayRuns;
using Microsoft.EntityFrameworkCore;
using static EvenSplit.Books.Tests.TestBook;

namespace EvenSplit.Books.Tests;

/// <summary>Money leaves once and to the right person, whatever a message, a file or somebody with the database says.</summary>
public sealed class PaymentDoubtTests : IDisposable
{
    private const string AnnasIban = "IE29AIBK93115212345678", InesIban = "DE89370400440532013000", HouseIban = "GB82WEST12345698765432";

    private static readonly DateOnly October = new(2026, 10, 31), Today = new(2026, 11, 3);

    private readonly TestBook _book = new();

    public PaymentDoubtTests()
    {
        _book.ImportOrders(Row("A", code: "ANNA"), Row("B", "2026-10-30"));
        Assert.Empty(_book.Get<PayingAccounts, IReadOnlyList<FieldFault>>(a => a.Save("EUR", "Test book", HouseIban, "WESTGB2L", Lead)));
        Give("anna", new PayoutDetailsDraft { Holder = "Anna", Iban = AnnasIban, Bic = "AIBKIE2D" });
        _book.MoveTo(Today);
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void A_wallets_file_says_nothing_of_a_payment_that_went_to_the_bank()
    {
        Issue();
        Fetch(Statement("DBIT", ""));
        Assert.Contains("was sent to the bank", Assert.Throws<RefusedException>(() => Upload("w.csv", $"reference,status,reason\n{Reference},returned,no such wallet\n")).Message);
        Assert.Equal((RemittanceState.Confirmed, 0), (State, OwedAgainCount()));
    }

    [Fact]
    public void A_refusal_that_somebody_uploads_owes_nothing_again_until_somebody_else_says_so()
    {
        Issue();
        Upload("r.xml", Report("RJCT"));
        Assert.Equal((RemittanceState.Sent, 0), (State, OwedAgainCount()));
        var doubt = Assert.Single(Doubts());
        Assert.Equal(("anna", PaymentDoubtKind.Refused, 1000L), (doubt.PayeeId, doubt.Record.Kind, doubt.Paid.Minor));
        Assert.Contains("somebody else", Assert.Throws<RefusedException>(() => _book.Do<PaymentDoubts>(d => d.Uphold(doubt.Record.Id, Lead))).Message);
        _book.Do<PaymentDoubts>(d => d.Uphold(doubt.Record.Id, Approver));
        Assert.Equal((RemittanceState.Refused, 1), (State, OwedAgainCount()));
        Assert.Throws<RefusedException>(() => _book.Do<PaymentDoubts>(d => d.Uphold(doubt.Record.Id, Approver)));
    }

    [Fact]
    public void A_refusal_that_is_dismissed_leaves_the_payment_as_it_was()
    {
        Issue();
        Upload("r.xml", Report("RJCT"));
        _book.Do<PaymentDoubts>(d => d.Dismiss(Doubts()[0].Record.Id, Lead));
        Assert.Equal((RemittanceState.Sent, 0, 0), (State, OwedAgainCount(), Doubts().Count));
    }

    [Fact]
    public void A_refusal_that_waits_is_void_once_the_statement_shows_the_payment()
    {
        Issue();
        Upload("r.xml", Report("RJCT"));
        Fetch(Statement("DBIT", ""));
        Assert.Contains("confirmed by now", Assert.Throws<RefusedException>(() => _book.Do<PaymentDoubts>(d => d.Uphold(Doubts()[0].Record.Id, Approver))).Message);
        Assert.Equal((RemittanceState.Confirmed, 0), (State, OwedAgainCount()));
    }

    [Fact]
    public void What_a_statement_returns_is_owed_again_at_once_and_marked_in_the_next_run()
    {
        Issue();
        Upload("s.xml", Statement("CRDT", "<RtrInf><Rsn><Cd>AC04</Cd></Rsn></RtrInf>"));
        Assert.Equal((RemittanceState.Returned, 1), (State, OwedAgainCount()));
        var next = Gather();
        Assert.Contains(_book.Run(next).Rows.Single(r => r.Payee == "anna").Marks, m => m.Mark == RunMark.OwedAgain && m.Says.Contains("came back: AC04", StringComparison.Ordinal));
    }

    [Fact]
    public void A_payment_made_though_refused_stops_what_was_owed_again()
    {
        Issue();
        Fetch(Report("RJCT"));
        Assert.Contains("owed again", Assert.Throws<RefusedException>(() => Upload("again.xml", Report("ACSC"))).Message);
        Assert.Equal((RemittanceState.Refused, 1), (State, OwedAgainCount()));
        Fetch(Statement("DBIT", ""));
        Assert.Equal((RemittanceState.Confirmed, 0), (State, OwedAgainCount()));
        Assert.Equal(PaymentDoubtKind.PaidThoughRefused, Assert.Single(Doubts()).Record.Kind);
        Assert.Throws<RefusedException>(() => _book.Do<PaymentDoubts>(d => d.Dismiss(Doubts()[0].Record.Id, Approver)));
        _book.Do<PaymentDoubts>(d => d.Uphold(Doubts()[0].Record.Id, Lead));
        Assert.Empty(Doubts());
    }

    [Fact]
    public void A_run_that_has_it_already_is_neither_approved_nor_issued_with_it()
    {
        Issue();
        _book.ImportOrders(Row("C", "2026-11-02", "ANNA"));
        Fetch(Report("RJCT"));
        var next = Gather();
        _book.Do<PayRunSteps>(s => s.Lock(next, Lead));
        Assert.Equal(2000, _book.Run(next).Rows.Single(r => r.Payee == "anna").Figures.Paid);
        Fetch(Statement("DBIT", ""));
        Assert.Contains("twice", Assert.Throws<RefusedException>(() => _book.Approve(next)).Message);
        _book.Do<PayRunSteps>(s => s.Unlock(next, "paid already", Lead));
        // What was owed again and what takes it back stand against each other: only what was earned since is paid.
        _book.Recalculate();
        _book.Do<PayRunSteps>(s => s.Lock(next, Lead));
        Assert.Equal(1000, _book.Run(next).Rows.Single(r => r.Payee == "anna").Figures.Paid);
        _book.Approve(next);
    }

    [Fact]
    public void One_that_is_approved_already_is_not_issued_with_it()
    {
        Issue();
        Fetch(Report("RJCT"));
        _book.Do<PayoutDetails>(d => d.SayRight(d.Of("anna")[0].Id, Lead));
        var next = _book.Pay(Today);
        Fetch(Statement("DBIT", ""));
        Assert.Contains("twice", Assert.Throws<RefusedException>(() => _book.Do<IssueRun>(i => i.Issue(next.Id, Lead))).Message);
        Assert.Empty(_book.Get<IssueRun, IReadOnlyList<PaymentFileRecord>>(i => i.FilesOf(next.Id)));
    }

    [Fact]
    public void A_write_off_of_a_balance_that_has_moved_is_refused()
    {
        _book.Do<OwedBalances>(b => b.Propose("ines", "gone abroad", Lead));
        var waiting = _book.Get<OwedBalances, int>(b => b.Waiting()[0].Id);
        _book.Pay(October);
        Assert.Contains("€40.00 when this was proposed and is €0.00 now", Assert.Throws<RefusedException>(() => _book.Do<OwedBalances>(b => b.Confirm(waiting, Approver))).Message);
        Assert.Equal(0, _book.Get<BookDbContext, int>(db => db.Adjustments.Count(a => a.Kind == AdjustmentKind.WriteOff)));
    }

    [Fact]
    public void Details_are_new_where_nothing_was_paid_before_also_after_a_payment_by_hand()
    {
        var run = _book.Pay(October);
        _book.Do<HandPayments>(h => h.MarkPaid(run.Id, [run.Rows.Single(r => r.Payee == "ines").Id!.Value], Today, "cash", null, Lead));
        Give("ines", new PayoutDetailsDraft { Holder = "Ines", Iban = InesIban, Bic = "COBADEFF" });
        _book.ImportOrders(Row("C", "2026-11-03"));
        _book.MoveTo(new DateOnly(2026, 12, 31));
        var next = Gather(new DateOnly(2026, 12, 31));
        Assert.Contains(RunMark.NewDetails, _book.Run(next).Rows.Single(r => r.Payee == "ines").Marks.Select(m => m.Mark));
    }

    [Fact]
    public void Details_copied_from_payee_to_payee_do_not_open()
    {
        Give("ines", new PayoutDetailsDraft { Holder = "Ines", Iban = InesIban, Bic = "COBADEFF" });
        _book.MoveTo(Today.AddDays(2));
        _book.Do<BookDbContext>(db => db.Database.ExecuteSqlRaw(
            "DROP TRIGGER PayoutDetails_NoUpdate; UPDATE PayoutDetails SET Protected = (SELECT Protected FROM PayoutDetails WHERE Payee = 'anna') WHERE Payee = 'ines';"));
        var run = _book.Pay(October);
        Assert.Contains("do not open", Assert.Throws<RefusedException>(() => _book.Do<IssueRun>(i => i.Issue(run.Id, Lead))).Message);
        Assert.Empty(_book.Get<IssueRun, IReadOnlyList<PaymentFileRecord>>(i => i.FilesOf(run.Id)));
    }

    [Fact]
    public async Task Of_one_who_confirms_and_one_who_refuses_details_at_once_one_is_heard()
    {
        Propose("ines", new PayoutDetailsDraft { Holder = "Ines", Iban = InesIban, Bic = "COBADEFF" });
        var id = _book.Get<PayoutDetails, int>(d => d.Waiting()[0].Id);
        var heard = await Task.WhenAll(new Action<PayoutDetails>[] { d => d.Confirm(id, Approver), d => d.Refuse(id, "Other") }.Select(say => Task.Run(() =>
        {
            try
            {
                _book.Do(say);
                return true;
            }
            catch (RefusedException)
            {
                return false;
            }
        })));
        Assert.Single(heard, h => h);
    }

    [Fact]
    public void A_wallets_address_is_written_just_as_it_was_typed_and_checked_when_it_is()
    {
        Give("anna", new PayoutDetailsDraft { Method = PayoutMethod.Wallet, Recipient = "+353861234567" });
        _book.MoveTo(Today.AddDays(2));
        var run = _book.Pay(October);
        _book.Do<IssueRun>(i => i.Issue(run.Id, Lead));
        var file = _book.Get<IssueRun, IReadOnlyList<PaymentFileRecord>>(i => i.FilesOf(run.Id)).Single(f => f.Method == PayoutMethod.Wallet);
        Assert.Contains("\n+353861234567,10.00,EUR,", _book.Get<IssueRun, string>(i => i.File(run.Id, file.Id)!.Value.Content).ReplaceLineEndings("\n"));
        foreach (var wrong in new[] { "=cmd|calc", "anna maria", "anna,1000", "anna\"@x.example", "-353861" })
        {
            Assert.Equal("Recipient", Assert.Single(_book.Get<PayoutDetails, IReadOnlyList<FieldFault>>(d => d.Propose("ines", new PayoutDetailsDraft { Method = PayoutMethod.Wallet, Recipient = wrong }, Lead))).Field);
        }
    }

    [Fact]
    public void A_file_of_the_bank_that_cannot_be_opened_keeps_no_other_from_being_read()
    {
        Issue();
        var folder = Directory.CreateDirectory(Path.Combine(_book.Place.Bank, "out")).FullName;
        File.CreateSymbolicLink(Path.Combine(folder, "a.xml"), "/nowhere/a.xml");
        File.WriteAllText(Path.Combine(folder, "b.xml"), Statement("DBIT", ""));
        _book.Do<PaymentResults>(r => r.Fetch());
        Assert.Equal(RemittanceState.Confirmed, State);
        Assert.Equal("a.xml", Assert.Single(_book.Get<PaymentResults, IReadOnlyList<(string File, string Fault)>>(r => r.PutAside())).File);
    }

    private void Issue()
    {
        var run = _book.Pay(October);
        _book.Do<IssueRun>(i => i.Issue(run.Id, Lead));
    }

    private int Gather(DateOnly? asOf = null) => _book.Get<PayRunSteps, int>(s => s.Gather(asOf ?? Today, Lead));

    private void Propose(string payee, PayoutDetailsDraft draft) => Assert.Empty(_book.Get<PayoutDetails, IReadOnlyList<FieldFault>>(d => d.Propose(payee, draft, Lead)));

    private void Give(string payee, PayoutDetailsDraft draft)
    {
        Propose(payee, draft);
        _book.Do<PayoutDetails>(d => d.Confirm(d.Waiting()[0].Id, Approver));
    }

    private void Upload(string name, string text) => _book.Do<PaymentResults>(r => r.Read(name, Encoding.UTF8.GetBytes(text), Lead));

    private void Fetch(string text)
    {
        File.WriteAllText(Path.Combine(Directory.CreateDirectory(Path.Combine(_book.Place.Bank, "out")).FullName, $"{Guid.NewGuid():N}.xml"), text);
        _book.Do<PaymentResults>(r => r.Fetch());
    }

    private IReadOnlyList<PaymentDoubtView> Doubts() => _book.Get<PaymentDoubts, IReadOnlyList<PaymentDoubtView>>(d => d.Waiting());

    private RemittanceRecord Annas => _book.Get<BookDbContext, RemittanceRecord>(db => db.Remittances.AsNoTracking().OrderBy(r => r.Id).First(r => r.Payee == "anna" && r.Paid > 0));

    private RemittanceState State => Annas.State;

    private string Reference => Annas.EndToEnd!;

    private int OwedAgainCount() => _book.Get<BookDbContext, int>(db => db.Adjustments.Count(a => a.Kind == AdjustmentKind.Returned));

    private string Report(string status) =>
        $"""
        <Document xmlns="urn:iso:std:iso:20022:tech:xsd:pain.002.001.03"><CstmrPmtStsRpt><GrpHdr><MsgId>STS-{status}</MsgId><CreDtTm>2026-11-03T18:00:00Z</CreDtTm></GrpHdr>
        <OrgnlPmtInfAndSts><TxInfAndSts><OrgnlEndToEndId>{Reference}</OrgnlEndToEndId><TxSts>{status}</TxSts></TxInfAndSts></OrgnlPmtInfAndSts></CstmrPmtStsRpt></Document>
        """;

    private string Statement(string direction, string why) =>
        $"""
        <Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><GrpHdr><MsgId>ST-{direction}</MsgId></GrpHdr><Stmt><Id>1</Id><Acct><Id><IBAN>{HouseIban}</IBAN></Id></Acct><Ntry><Amt Ccy="EUR">10.00</Amt>
        <CdtDbtInd>{direction}</CdtDbtInd><BookgDt><Dt>2026-11-03</Dt></BookgDt><NtryDtls><TxDtls><Refs><EndToEndId>{Reference}</EndToEndId></Refs>{why}</TxDtls></NtryDtls></Ntry></Stmt></BkToCstmrStmt></Document>
        """;
}
