using EvenSplit.Books.Journal;
using EvenSplit.Books.Posting;
using EvenSplit.Books.Proofs;
using EvenSplit.Books.Reconcile;
using EvenSplit.Core;

namespace EvenSplit.Books.Tests;

/// <summary>The journal of random books, against section 5 of the contract told order after order; and their proofs.</summary>
public sealed class RandomJournalTests
{
    public static TheoryData<int> Seeds => new(Enumerable.Range(1900, 12));

    [Theory, MemberData(nameof(Seeds))]
    public void Accounts_are_what_the_contract_makes_of_the_facts(int seed)
    {
        var facts = ScenarioBook.Random(seed, 50);
        using var book = new ScenarioBook(facts);
        Assert.Equal(Reference(facts), Accounts(book, "Income:Sales", "Income:Shipping", "Income:Rebates", "Liabilities:Tax", "Liabilities:Channel", "Assets:Clearing", "Assets:Rebates", "Expenses:Fees", "Expenses:Earnings"));
    }

    [Theory, MemberData(nameof(Seeds))]
    public void Every_transaction_balances_and_days_follow_on_one_another(int seed)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(seed, 50));
        var transactions = Transactions(book);
        Assert.All(transactions, t => Assert.All(t.Postings.GroupBy(p => (p.Worth ?? p.Amount).Currency), c => Assert.Equal(0, c.Sum(p => (p.Worth ?? p.Amount).Minor))));
        Assert.Equal(transactions.Select(t => t.On).Order(), transactions.Select(t => t.On));
    }

    [Theory, MemberData(nameof(Seeds))]
    public void In_whatever_pieces_it_is_read_the_journal_is_the_same(int seed)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(seed, 30));
        var whole = Transactions(book);
        var middle = whole[whole.Count / 2].On;
        var pieces = book.Get<BookJournal, JournalTransaction[]>(j => [.. j.Between(null, middle), .. j.Between(middle.AddDays(1), null)]);
        Assert.Equal(whole.Select(t => (t.On, t.Words, t.Key)), pieces.Select(t => (t.On, t.Words, t.Key)));
    }

    [Theory, MemberData(nameof(Seeds))]
    public void Sums_of_days_are_those_of_the_transactions(int seed)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(seed, 40));
        var (random, transactions) = (new Random(seed), Transactions(book));
        for (var round = 0; round < 6; round++)
        {
            var days = transactions.Select(t => t.On).Distinct().ToArray();
            var (from, to) = (days[random.Next(days.Length / 2)], days[days.Length / 2 + random.Next(days.Length / 2)]);
            Assert.Equal(SumsOf(transactions.Where(t => t.On >= from && t.On <= to), from), book.Get<JournalExport, IReadOnlyList<AccountSum>>(e => e.Movements(from, to)));
            Assert.Equal(SumsOf(transactions.Where(t => t.On <= to), from), book.Get<JournalExport, IReadOnlyList<AccountSum>>(e => e.TrialBalance(from, to)));
            foreach (var account in transactions.SelectMany(t => t.Postings).Select(p => p.Account).Distinct().OrderBy(_ => random.Next()).Take(8))
            {
                var postings = transactions.Where(t => t.On >= from && t.On <= to).SelectMany(t => t.Postings.Where(p => p.Account == account).Select(p => (t.On, p.Amount.ToString()))).ToArray();
                var (first, count) = book.Get<BookJournal, (IReadOnlyList<(JournalTransaction Transaction, JournalPosting Posting)> First, long Count)>(j => j.Ledger(account, from, to, 1000, fewEntries: random.Next(2) * 1000));
                Assert.Equal(postings.LongLength, count);
                Assert.Equal(postings.Order(), first.Select(p => (p.Transaction.On, p.Posting.Amount.ToString())).Order());
                Assert.Equal(first.Select(p => p.Transaction.On).Order(), first.Select(p => p.Transaction.On));
            }
        }
        book.AgreesWithItself();
    }

    private static AccountSum[] SumsOf(IEnumerable<JournalTransaction> transactions, DateOnly from) => [.. transactions
        .SelectMany(t => t.Postings.Select(p => (IsBefore: t.On < from, p.Account, p.Amount))).GroupBy(p => (p.Account, p.Amount.Currency))
        .Select(g => new AccountSum(
            g.Key.Account, g.Key.Currency, g.Where(p => p.IsBefore).Sum(p => p.Amount.Minor), g.Where(p => !p.IsBefore).Sum(p => Math.Max(0, p.Amount.Minor)), g.Where(p => !p.IsBefore).Sum(p => Math.Max(0, -p.Amount.Minor))))
        .OrderBy(s => s.Account, StringComparer.Ordinal).ThenBy(s => s.Currency.Code, StringComparer.Ordinal)];

    [Theory, MemberData(nameof(Seeds))]
    public void Facts_one_by_one_in_any_order_come_to_the_same_accounts(int seed)
    {
        var facts = ScenarioBook.Random(seed, 25) with { Runs = [], Adjustments = [] };
        using var book = new ScenarioBook(facts with { Orders = [], Refunds = [] });
        var random = new Random(seed);
        foreach (var order in facts.Orders.OrderBy(_ => random.Next()))
        {
            book.Take(order);
            if (random.Next(3) == 0) book.Do<FindMatches>(m => m.RunAll());
        }
        foreach (var refund in facts.Refunds.OrderBy(_ => random.Next()))
        {
            book.Take(refund);
            if (random.Next(3) == 0) book.Do<FindMatches>(m => m.RunAll());
        }
        var transactions = Transactions(book);
        var (first, last) = (transactions[0].On, transactions[^1].On);
        Assert.Equal(SumsOf(transactions, first), book.Get<JournalExport, IReadOnlyList<AccountSum>>(e => e.TrialBalance(first, last)));
        // Fees and rebates too: an order that came before its referral was known is corrected on the day that is found.
        Assert.Equal(Reference(facts), Accounts(book, "Income:Sales", "Income:Shipping", "Income:Rebates", "Liabilities:Tax", "Liabilities:Channel", "Assets:Clearing", "Assets:Rebates", "Expenses:Fees", "Expenses:Earnings"));
    }

    [Theory, MemberData(nameof(Seeds))]
    public void Every_month_is_proved(int seed)
    {
        using var book = new ScenarioBook(ScenarioBook.Random(seed, 50));
        var transactions = Transactions(book);
        for (var month = Period.Of(transactions[0].On); month.FirstDay <= transactions[^1].On; month = month.Next)
        {
            var proof = book.Get<MonthProof, ProofView>(p => p.Of(month));
            Assert.Equal([], proof.Lines.Where(l => !l.Holds).ToArray());
            // What stands on the journal's account of a payee is what the proof says they have earned and no run has taken.
            var owed = transactions.Where(t => t.On <= month.LastDay).SelectMany(t => t.Postings).Where(p => p.Account.StartsWith("Liabilities:Earnings:", StringComparison.Ordinal))
                .GroupBy(p => (p.Account, p.Amount.Currency.Code)).ToDictionary(g => g.Key, g => -g.Sum(p => p.Amount.Minor));
            Assert.Equal(
                proof.Earnings.Where(c => c.Closing != 0).Select(c => $"{JournalAccount.Earnings(c.Payee)} {c.Closing} {c.Currency}").Order(StringComparer.Ordinal),
                owed.Where(o => o.Value != 0).Select(o => $"{o.Key.Account} {o.Value} {o.Key.Code}").Order(StringComparer.Ordinal));
        }
    }

    /// <summary>By account and currency, from the facts and what calc makes of them.</summary>
    private static List<string> Reference(Facts facts)
    {
        var sums = new Dictionary<(string, string), long>();
        void Post(string account, long minor, string currency) => sums[(account, currency)] = sums.GetValueOrDefault((account, currency)) + minor;
        var result = WholeBook.WorkOut(facts);
        foreach (var order in result.Orders.Where(o => o is { Status: OrderStatus.Calculated }))
        {
            var (f, currency, clearing) = (order.Figures!, order.Order.Currency.Code, $"Assets:Clearing:{order.Order.Processor?.Value ?? "direct"}");
            Post(clearing, f.Charged - f.ProcessingFee, currency);
            Post("Expenses:Fees:Processing", f.ProcessingFee, currency);
            Post("Income:Sales", -f.GoodsNet, currency);
            Post("Income:Shipping", -f.ShippingNet, currency);
            Post("Liabilities:Tax", -f.Tax, currency);
            Post("Expenses:Fees:Channel", f.ChannelFee, currency);
            Post($"Liabilities:Channel:{order.Order.Channel}", -f.ChannelFee, currency);
            Post($"Assets:Rebates:{order.Order.Channel}", f.Rebate, currency);
            Post("Income:Rebates", -f.Rebate, currency);
            var goods = f.Lines.ToDictionary(l => l.Line.Id, l => l.GoodsNet);
            var tax = f.Lines.ToDictionary(l => l.Line.Id, l => l.Tax);
            var (shipping, shippingTax, fee) = (f.ShippingNet, f.ShippingTax, f.ProcessingFee);
            foreach (var refund in facts.Refunds.Where(r => r.Order == order.Order.Id).OrderBy(r => r.TakesEffectAt(order.Order.PaidAt!.Value)).ThenBy(r => r.Id.Value, StringComparer.Ordinal))
            {
                var (goodsTaken, taxTaken, shippingTaken) = (0L, 0L, 0L);
                if (refund.Kind == RefundKind.Cancel)
                {
                    (goodsTaken, taxTaken, shippingTaken) = (goods.Values.Sum(), tax.Values.Sum() + shippingTax, shipping);
                    foreach (var line in goods.Keys) (goods[line], tax[line]) = (0, 0);
                    (shipping, shippingTax) = (0, 0);
                }
                else
                {
                    foreach (var line in refund.Lines)
                    {
                        var (g, t) = (Math.Min(line.Goods, goods[line.Line]), Math.Min(line.Tax, tax[line.Line]));
                        (goods[line.Line], tax[line.Line]) = (goods[line.Line] - g, tax[line.Line] - t);
                        (goodsTaken, taxTaken) = (goodsTaken + g, taxTaken + t);
                    }
                    var (s, st) = (Math.Min(refund.Shipping, shipping), Math.Min(refund.ShippingTax, shippingTax));
                    (shipping, shippingTax, shippingTaken, taxTaken) = (shipping - s, shippingTax - st, s, taxTaken + st);
                }
                var returned = Math.Min(refund.ProcessingFeeReturned, fee);
                fee -= returned;
                Post(clearing, -goodsTaken - taxTaken - shippingTaken + returned - refund.DisputeFee, currency);
                Post("Expenses:Fees:Processing", refund.DisputeFee - returned, currency);
                Post("Income:Sales", goodsTaken, currency);
                Post("Income:Shipping", shippingTaken, currency);
                Post("Liabilities:Tax", taxTaken, currency);
            }
        }
        foreach (var entry in result.Entries)
        {
            Post(facts.Rules.Payee(entry.Payee).Role switch { PayeeRole.Affiliate => "Expenses:Earnings:Affiliates", PayeeRole.Collaborator => "Expenses:Earnings:Collaborators", _ => "Expenses:Earnings:Vendors" }, entry.Amount.Minor, entry.Amount.Currency.Code);
        }
        return [.. sums.Where(s => s.Value != 0).Select(s => $"{s.Key.Item1} {s.Value} {s.Key.Item2}").Order(StringComparer.Ordinal)];
    }

    private static List<JournalTransaction> Transactions(ScenarioBook book)
    {
        book.Do<FindMatches>(m => m.RunAll());
        return book.Get<BookJournal, List<JournalTransaction>>(j => [.. j.Between(null, null)]);
    }

    private static List<string> Accounts(ScenarioBook book, params string[] below) => [.. Transactions(book).SelectMany(t => t.Postings).Where(p => below.Any(b => p.Account == b || p.Account.StartsWith(b + ":", StringComparison.Ordinal)))
        .GroupBy(p => (p.Account, p.Amount.Currency.Code)).Select(g => (g.Key, Sum: g.Sum(p => p.Amount.Minor))).Where(s => s.Sum != 0).Select(s => $"{s.Key.Account} {s.Sum} {s.Key.Code}").Order(StringComparer.Ordinal)];
}
