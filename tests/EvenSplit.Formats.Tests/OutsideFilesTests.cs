using System.Text;
using EvenSplit.Core;
using EvenSplit.Formats.Csv;
using EvenSplit.Formats.Payments;

namespace EvenSplit.Formats.Tests;

/// <summary>What processors, banks and partners write: the documented samples, and statements in every version a bank may send.</summary>
public sealed class OutsideFilesTests
{
    private static readonly BookTime Time = BookTime.Of("Europe/Dublin");

    [Fact]
    public void The_sample_of_a_settlement_is_read_and_adds_up()
    {
        var lines = SettlementCsv.Read(Rows("settlement.csv", SettlementCsv.Columns), Time).ToArray();
        Assert.All(lines, l => Assert.Empty(l.Faults));
        Assert.Equal([MovementKind.Sale, MovementKind.Refund, MovementKind.Fee, MovementKind.Payout], lines.Select(l => l.Value!.Kind));
        Assert.Equal(0, lines.Sum(l => l.Value!.Gross - l.Value.Fee));
        Assert.Equal(("HS-12480", "RF-640", -2200L), (lines[1].Value!.Order, lines[1].Value!.RefundId, lines[1].Value!.Gross));
    }

    [Fact]
    public void What_a_settlement_leaves_out_follows_from_the_rest()
    {
        const string text = "settlement_id,settled_on,type,order_id,currency,gross,net\nS,2026-11-02,sale,A,EUR,24.00,23.33\nS,2026-11-02,fee,,EUR,,-1.00\nS,2026-11-02,payout,,EUR,,-22.33\n";
        using var table = new CsvTable(new MemoryStream(Encoding.UTF8.GetBytes(text)), SettlementCsv.Columns);
        Assert.Equal([(2400L, 67L, "2"), (0, 100, "3"), (-2233, 0, "4")], SettlementCsv.Read(table.Rows().ToArray(), Time).Select(l => (l.Value!.Gross, l.Value.Fee, l.Value.Reference)));
    }

    [Fact]
    public void The_sample_of_a_statement_is_read_with_its_signs()
    {
        var lines = StatementCsv.Read(Rows("statement.csv", StatementCsv.Columns), Time).Select(l => l.Value!).ToArray();
        Assert.Equal([(33L, 500033L), (-6147, 493886)], lines.Select(l => (l.Amount, l.BalanceAfter!.Value)));
        Assert.Equal(("ES-261031-12", "Cassia Brightwater"), (lines[1].Reference, lines[1].Name));
    }

    [Theory]
    [InlineData("001.02", "<Sts>BOOK</Sts>", "<Cdtr><Nm>Anna Quill</Nm></Cdtr>")]
    [InlineData("001.04", "<Sts>BOOK</Sts>", "<Cdtr><Nm>Anna Quill</Nm></Cdtr>")]
    [InlineData("001.06", "<Sts>BOOK</Sts>", "<Cdtr><Nm>Anna Quill</Nm></Cdtr>")]
    [InlineData("001.08", "<Sts><Cd>BOOK</Cd></Sts>", "<Cdtr><Pty><Nm>Anna Quill</Nm></Pty></Cdtr>")]
    public void A_statement_is_read_in_every_version(string version, string booked, string creditor)
    {
        var statement = Assert.Single(BankStatementXml.Read(Statement(version,
            $"<Ntry><NtryRef>N1</NtryRef><Amt Ccy=\"EUR\">10.00</Amt><CdtDbtInd>DBIT</CdtDbtInd>{booked}<BookgDt><Dt>2026-11-03</Dt></BookgDt><NtryDtls><TxDtls><Refs><EndToEndId>ES-1</EndToEndId></Refs><RltdPties>{creditor}</RltdPties></TxDtls></NtryDtls></Ntry>"
            + $"<Ntry><Amt Ccy=\"EUR\">1.00</Amt><CdtDbtInd>CRDT</CdtDbtInd>{booked.Replace("BOOK", "PDNG", StringComparison.Ordinal)}<BookgDt><Dt>2026-11-03</Dt></BookgDt></Ntry>")));
        Assert.Equal(("IE29AIBK93115212345678", 500000L, 499000L), (statement.Account, statement.Opening, statement.Closing));
        var row = Assert.Single(statement.Entries).Row;
        Assert.Equal(("N1", -1000L, "ES-1", "Anna Quill", new DateOnly(2026, 11, 3)), (row.Id, row.Amount, row.Reference, row.Name, row.On));
    }

    [Fact]
    public void A_batch_is_a_line_for_each_payment_where_their_amounts_are_given_else_one_under_its_message()
    {
        static string Transaction(string reference, string amount) => $"<TxDtls><Refs><EndToEndId>{reference}</EndToEndId></Refs>{(amount.Length > 0 ? $"<AmtDtls><TxAmt><Amt Ccy=\"EUR\">{amount}</Amt></TxAmt></AmtDtls>" : "")}</TxDtls>";
        static string Batch(string details) => $"<Ntry><Amt Ccy=\"EUR\">10.00</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-11-03</Dt></BookgDt><NtryDtls><Btch><MsgId>M-1</MsgId></Btch>{details}</NtryDtls></Ntry>";
        var entries = BankStatementXml.Read(Statement("001.02", Batch(Transaction("A", "4.00") + Transaction("B", "6.00")) + Batch(Transaction("A", "") + Transaction("B", "")))).Single().Entries;
        Assert.Equal([("A", -400L), ("B", -600), ("M-1", -1000)], entries.Select(e => (e.Row.Reference, e.Row.Amount)));
        Assert.Equal(3, entries.Select(e => e.Row.Id).Distinct().Count());
    }

    [Theory]
    [InlineData("<Ntry><Amt Ccy=\"EUR\">ten</Amt><CdtDbtInd>DBIT</CdtDbtInd><BookgDt><Dt>2026-11-03</Dt></BookgDt></Ntry>", "Entry 1 of the statement S-1 has no amount")]
    [InlineData("<Ntry><Amt Ccy=\"EUR\">10.00</Amt><CdtDbtInd>DBIT</CdtDbtInd></Ntry>", "has no day of booking")]
    [InlineData("<Ntry><Amt Ccy=\"EUR\">10.00</Amt><BookgDt><Dt>2026-11-03</Dt></BookgDt></Ntry>", "neither a debit nor a credit")]
    public void An_entry_that_cannot_be_read_is_named(string entry, string says) =>
        Assert.Contains(says, Assert.Throws<PaymentMessageException>(() => BankStatementXml.Read(Statement("001.02", entry))).Message, StringComparison.Ordinal);

    [Fact]
    public void The_sample_of_a_partner_names_an_order_or_a_span_of_days()
    {
        var rules = new Rulebook(new BookPolicy(Currency.Of("EUR"), Time, ClickModel.Last, false), new ExchangeRates(Currency.Of("EUR"), []), [], [], [], [Payee("stone-wall-podcast"), Payee("brackenside-joinery")], []);
        var lines = OutsideCsv.Read(Rows("outside.csv", OutsideCsv.Columns), rules).ToArray();
        Assert.All(lines, l => Assert.Empty(l.Faults));
        Assert.Equal([("HS-12204", ""), ("", "BJ-202610")], lines.Select(l => (l.Value!.Order, l.Value.Invoice)));

        static Payee Payee(string id) => new() { Id = new PayeeId(id), Role = PayeeRole.Vendor, PayoutCurrency = Currency.Of("EUR"), ActiveFrom = new DateOnly(2026, 1, 1) };
    }

    private static CsvRow[] Rows(string sample, CsvColumns columns)
    {
        using var table = new CsvTable(new MemoryStream(Encoding.UTF8.GetBytes(ShopFileTests.Sample(sample))), columns);
        return [.. table.Rows()];
    }

    private static string Statement(string version, string entries)
    {
        static string Balance(string code, string amount) => $"<Bal><Tp><CdOrPrtry><Cd>{code}</Cd></CdOrPrtry></Tp><Amt Ccy=\"EUR\">{amount}</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-03</Dt></Dt></Bal>";
        return $"<Document xmlns=\"urn:iso:std:iso:20022:tech:xsd:camt.053.{version}\"><BkToCstmrStmt><GrpHdr><MsgId>X</MsgId></GrpHdr><Stmt><Id>S-1</Id><Acct><Id><IBAN>IE29 AIBK 9311 5212 3456 78</IBAN></Id></Acct>{Balance("OPBD", "5000.00")}{Balance("CLBD", "4990.00")}{entries}</Stmt></BkToCstmrStmt></Document>";
    }
}
