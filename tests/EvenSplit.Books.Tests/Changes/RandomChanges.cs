using System.Globalization;
using EvenSplit.Books.Balances;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Clearing;
using EvenSplit.Books.Exceptions;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Scenarios;
using EvenSplit.Core;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Books.Tests.Changes;

/// <summary>Changes facts and rules of a book at random, through what a user does. What the book refuses is no change.</summary>
internal sealed partial class RandomChanges
{
    private const string Lead = "Lena", Approver = "Aron";

    private readonly ScenarioBook _book;
    private readonly Random _steps;
    private Random _random;
    private readonly Facts _donor;
    private readonly (string Name, int Weight, Action Do)[] _all;
    private int _number;

    public RandomChanges(ScenarioBook book, int seed)
    {
        (_book, _steps, _random, _donor) = (book, new Random(seed), new Random(seed), ScenarioBook.Random(seed + 50_000, 40));
        _all =
        [
            ("new orders", 10, NewOrders), ("a corrected order", 14, CorrectedOrder), ("a refund", 8, NewRefund), ("clicks", 4, NewClicks),
            ("a payee", 12, ChangePayee), ("put on", 6, PutOn), ("taken off", 5, TakeOff), ("approved for", 5, Approve), ("a version", 7, Publish), ("a version withdrawn", 2, Withdraw),
            ("a personal term", 4, WritePersonal), ("a personal term ended", 2, EndPersonal), ("a share given", 3, GiveShare), ("a product", 7, ChangeProduct), ("a unit cost", 3, ChangeCost),
            ("a processor", 3, ChangeProcessor), ("a channel", 3, ChangeChannel), ("a rate", 4, AddRate), ("policies", 1, ChangePolicies), ("assignments", 4, Assign), ("fees typed in", 3, TypeFees),
            ("a sign-off", 4, SignOff), ("a test mark", 1, MarkTest), ("held back", 3, HoldBack), ("let go", 3, LetGo), ("exceptions let stand", 3, Accept), ("an adjustment", 3, Adjust), ("an advance", 1, AddAdvance),
            ("days go on", 4, MoveOn), ("a run gathered", 9, Gather), ("a run locked", 9, Lock), ("a run unlocked", 3, Unlock), ("a run approved", 2, ApproveRun), ("a payment set aside", 1, SetAside), ("a run issued", 2, Issue),
            ("tests removed", 1, RemoveTests), ("a code's days", 6, RedateCode), ("a membership's days", 5, RedateMembership), ("never on", 2, NeverOn), ("a refund withdrawn", 4, WithdrawRefund),
            ("a refund corrected", 3, CorrectRefund), ("a test mark taken off", 2, MarkNoTest),
        ];
    }

    /// <summary>Does one thing; says what, and whether the book refused it.</summary>
    public string Step()
    {
        var at = _steps.Next(_all.Sum(a => a.Weight));
        var chosen = _all.First(a => (at -= a.Weight) < 0);
        var dice = _steps.Next();
        try
        {
            // Half of them as on the pages: shown first, agreed to, posted.
            return _steps.Next(2) == 0 ? Shown(chosen.Name, chosen.Do, dice) : Done(chosen.Name, chosen.Do, dice);
        }
        catch (RefusedException refused)
        {
            return $"{chosen.Name}, refused: {refused.Message}";
        }
    }

    private string Done(string name, Action change, int dice)
    {
        _random = new Random(dice);
        change();
        return name;
    }

    /// <summary>The same change twice: shown, when it leaves everything as it was, and agreed to, when it posts just what was shown.</summary>
    private string Shown(string name, Action change, int dice)
    {
        _book.IsEveryChangeLarge = _steps.Next(2) == 0;
        // Nothing is told while an earlier change is still on its way.
        if (_book.IsEveryChangeLarge) _book.Recalculate();
        var (before, house, number) = (Sums(), House(), _number);
        _book.ShownFirst = (true, "");
        try
        {
            return Done(name, change, dice);
        }
        catch (NotSeenException notSeen)
        {
            Assert.Equal(before, Sums());
            _number = number;
            var difference = notSeen.Difference.AreTooMany ? _book.Get<IServiceProvider, PostedDifference>(s => LargeDifferences.WorkOut(s.GetRequiredService<BookDbContext>(), s.GetRequiredService<BookFacts>(), notSeen.After!, notSeen.Change)) : notSeen.Difference;
            _book.ShownFirst = (true, difference.Fingerprint);
            _book.WorkedOut = difference.IsLarge ? difference : null;
            Done(name, change, dice);
            if (difference.IsLarge) _book.Recalculate();
            var shown = difference.Sums.Where(s => s.Payee is not null).ToDictionary(s => (s.Payee!, s.Amount.Currency.Code), s => s.Amount.Minor);
            var posted = Sums();
            Assert.All(posted.Keys.Union(shown.Keys), key => Assert.Equal(shown.GetValueOrDefault(key), posted.GetValueOrDefault(key) - before.GetValueOrDefault(key)));
            var kept = House();
            Assert.All(kept, h => Assert.Equal(difference.Sums.Where(s => s.Payee is null && s.Amount.Currency.Code == h.Key).Sum(s => s.Amount.Minor), h.Value - house.GetValueOrDefault(h.Key)));
            return name + (difference.IsLarge ? ", worked out by the side" : ", shown first");
        }
        finally
        {
            (_book.ShownFirst, _book.WorkedOut, _book.IsEveryChangeLarge) = (default, null, false);
        }
    }

    /// <summary>What the house keeps of all orders.</summary>
    private Dictionary<string, long> House() => _book.Get<BookDbContext, Dictionary<string, long>>(db => db.Orders.GroupBy(o => o.Currency).Select(g => new { g.Key, Sum = g.Sum(o => o.House) }).ToDictionary(g => g.Key, g => g.Sum));

    /// <summary>What has been posted in all.</summary>
    private Dictionary<(string Payee, string Currency), long> Sums() => _book.Get<BookDbContext, Dictionary<(string, string), long>>(db =>
        db.Entries.GroupBy(e => new { e.Payee, e.Currency }).Select(g => new { g.Key.Payee, g.Key.Currency, Sum = g.Sum(e => e.Amount) }).ToDictionary(s => (s.Payee, s.Currency), s => s.Sum));

    private DateOnly Day() => new DateOnly(2026, 1, 1).AddDays(_random.Next(-40, 420));

    private bool Chance(double share) => _random.NextDouble() < share;

    private T OneOf<T>(IReadOnlyList<T> of) => of.Count == 0 ? throw new RefusedException("there is none") : of[_random.Next(of.Count)];

    private T[] Some<T>(IEnumerable<T> of, int most)
    {
        var all = of.ToArray();
        _random.Shuffle(all);
        return all[.._random.Next(Math.Min(most, all.Length) + 1)];
    }

    private Rulebook Rules => _book.Get<BookCache, Rulebook>(c => c.Find()!.Rules);

    private Facts Facts => _book.Get<Scenarios.BookFacts, Facts>(f => f.Read());

    private T[] Rows<T>(Func<BookDbContext, IQueryable<T>> of) => _book.Get<BookDbContext, T[]>(db => [.. of(db)]);

    private string Major(int minor) => (minor / 100m).ToString("0.00", CultureInfo.InvariantCulture);

    private void Import(ImportKind kind, string csv)
    {
        var id = _book.Get<ImportFiles, int>(f => f.QueueAsync(kind, "file.csv", new MemoryStream(System.Text.Encoding.UTF8.GetBytes(csv)), Lead).GetAwaiter().GetResult());
        _book.Do<ReadImport>(r => r.Run(id));
    }

    private void NewOrders()
    {
        var rules = Rules;
        var known = Rows(db => db.Orders.Select(o => o.OrderId));
        Import(ImportKind.Orders, SalesFiles.Orders(Some(_donor.Orders, 3).Select(o => Fitting(rules, o) with
        {
            Id = new OrderId($"n{_number++}"),
            Origin = Chance(0.3) ? new OrderId(Chance(0.2) ? $"n{_number + 1}" : OneOf(known)) : null,
        })));
    }

    /// <summary>An order of another scenario with what this book knows.</summary>
    private static Order Fitting(Rulebook rules, Order order) => order with
    {
        PaidAt = order.PaidAt < order.PlacedAt ? order.PlacedAt : order.PaidAt,
        Lines = [.. order.Lines.Select(l => l.Variant is { } v && rules.ProductOf(v) != l.Product ? l with { Variant = null } : l)],
    };

    private void CorrectedOrder()
    {
        var orders = Facts.Orders;
        Import(ImportKind.Orders, SalesFiles.Orders(Some(orders, 4).Select(o => Corrected(o, orders))));
    }

    private Order Corrected(Order order, IReadOnlyList<Order> all)
    {
        for (var i = 0; i <= _random.Next(3); i++) order = Change(order, all);
        return order.PaidAt < order.PlacedAt ? order with { PaidAt = order.PlacedAt } : order;
    }

    private Order Change(Order order, IReadOnlyList<Order> all) => _random.Next(16) switch
    {
        0 when order.Lines.Count > 1 => order with { Lines = [.. order.Lines.Where((_, i) => i != 0)] },
        1 => order with { Lines = [.. order.Lines.Reverse()] },
        2 => order with { Lines = [.. order.Lines, new OrderLine { Id = new LineId($"x{_number++}"), Product = OneOf([.. Rules.Products]).Id, Quantity = _random.Next(1, 4), UnitPrice = _random.Next(5000) }] },
        3 => order with { Lines = [.. order.Lines.Select((l, i) => i == 0 ? l with { Product = OneOf([.. Rules.Products]).Id, Variant = null } : l)] },
        4 => order with { Lines = [.. order.Lines.Select(l => l with { Quantity = _random.Next(1, 5), Discount = 0, Tax = l.Tax / 3 })], Discount = 0 },
        5 => order with { Lines = [.. order.Lines.Select(l => l with { UnitPrice = l.UnitPrice + _random.Next(2000) })] },
        6 => order with { PaidAt = order.PlacedAt.AddHours(_random.Next(900)) },
        7 => order with { PaidAt = Chance(0.5) ? null : order.PlacedAt },
        8 => order with { PlacedAt = order.PlacedAt.AddHours(_random.Next(-900, 900)) },
        9 => order with { Codes = [.. Some(Rules.Payees.SelectMany(p => p.Codes).Select(c => c.Text), 2)] },
        10 => order with { ManualPayee = Chance(0.5) ? null : OneOf([.. Rules.Payees]).Id },
        11 => order with { Origin = Chance(0.4) ? null : OneOf(all).Id },
        12 => order with { CustomerKey = Chance(0.3) ? null : $"k{_random.Next(10)}" },
        13 => order with { Channel = new ChannelId($"ch{_random.Next(4)}"), Processor = Chance(0.2) ? null : new ProcessorId($"pr{_random.Next(3)}") },
        14 => order with { ProcessingFee = Chance(0.5) ? null : _random.Next(400), ChannelFee = Chance(0.5) ? null : _random.Next(300), Rebate = Chance(0.5) ? null : _random.Next(200) },
        _ => order with { IsTest = Chance(0.1), Customer = Chance(0.5) ? CustomerKind.New : CustomerKind.Returning, Lines = [.. order.Lines.Select(l => l with { PaymentNumber = Chance(0.4) ? _random.Next(4) : null })] },
    };

    private void NewRefund()
    {
        var order = OneOf(Facts.Orders);
        var refund = new Refund
        {
            Id = new RefundId($"r{_number++}"),
            Order = order.Id,
            At = (order.PaidAt ?? order.PlacedAt).AddHours(_random.Next(-50, 3000)),
            Kind = OneOf([RefundKind.Refund, RefundKind.Refund, RefundKind.Chargeback, RefundKind.Cancel]),
            Shipping = Chance(0.3) ? _random.Next(300) : 0,
            ProcessingFeeReturned = Chance(0.3) ? _random.Next(100) : 0,
            DisputeFee = Chance(0.2) ? _random.Next(1500) : 0,
            Lines = [.. Some(order.Lines, 3).Select(l => new RefundLine(l.Id, _random.Next((int)Math.Min(l.Quantity, 5) + 1), _random.NextInt64(l.UnitPrice * l.Quantity + 1), Chance(0.5) ? _random.NextInt64(l.Tax + 1) : 0))],
        };
        Import(ImportKind.Refunds, SalesFiles.Refunds((refund, order.Currency)));
    }

    private void NewClicks() => Import(ImportKind.Clicks, SalesFiles.Clicks(Some(Facts.Orders, 3).Select(o => (OneOf([.. Rules.Payees]).Id.Value, o.PlacedAt.AddHours(-_random.Next(-20, 1500)), o.Id.Value))));

    private void Assign()
    {
        var payee = Chance(0.3) ? "" : OneOf([.. Rules.Payees]).Id.Value;
        var orders = Some(Rows(db => db.Orders.Select(o => o.OrderId)), 3);
        _book.Do<AssignOrders>(a => a.Assign(a.ToOne(orders, payee, "rang"), Lead));
    }

    private string AnyOrder() => OneOf(Rows(db => db.Orders.Select(o => o.OrderId)));

    private void TypeFees()
    {
        var (order, processing, channel) = (AnyOrder(), Chance(0.3) ? "" : $"{_random.Next(4)}", Chance(0.3) ? "" : $"{_random.Next(4)}");
        _book.Do<CorrectOrder>(c => c.CorrectFees(order, processing, channel, Lead));
    }

    private void SignOff()
    {
        var order = AnyOrder();
        _book.Do<CorrectOrder>(c => c.SignOff(order, Lead));
    }

    private void MarkNoTest()
    {
        var order = OneOf(Rows(db => db.Orders.Where(o => o.IsTest).Select(o => o.OrderId)));
        _book.Do<CorrectOrder>(c => c.MarkAsNoTest(order, Lead));
    }

    private void WithdrawRefund()
    {
        var refund = OneOf(Rows(db => db.Refunds.Join(db.Orders, r => r.OrderId, o => o.Id, (r, o) => new { r.RefundId, o.OrderId })));
        _book.Do<CorrectOrder>(c => c.WithdrawRefund(refund.OrderId, refund.RefundId, "never was", Lead));
    }

    private void CorrectRefund()
    {
        var id = OneOf(Rows(db => db.AllRefunds.Select(r => r.RefundId)));
        var (cells, lines) = _book.Get<HandEntry, (Dictionary<string, string>, IReadOnlyList<Dictionary<string, string>>)>(h => h.FindRefund(id)!.Value);
        cells["shipping"] = $"{_random.Next(3)}";
        foreach (var line in lines) line["goods"] = $"{_random.Next(20)}";
        _book.Do<HandEntry>(h => h.Enter(new HandDraft { Kind = Formats.Events.SalesEventKind.Refund, Cells = cells, Lines = [.. lines] }, Lead));
    }

    private void MarkTest()
    {
        var order = AnyOrder();
        _book.Do<CorrectOrder>(c => c.MarkAsTest(order, Lead));
    }

    private void RemoveTests() => _book.Do<TestOrders>(t => t.Remove(DateTimeOffset.UtcNow.AddHours(2)));

    private void HoldBack()
    {
        var entry = OneOf(Rows(db => db.Entries.Where(e => e.RunId == null).Select(e => e.Id)));
        _book.Do<EntryHolds>(h => h.Hold(entry, "asked", Lead));
    }

    private void LetGo()
    {
        var hold = OneOf(Rows(db => db.EntryHolds.Where(h => h.LetGoAt == null).Select(h => h.Id)));
        _book.Do<EntryHolds>(h => h.LetGo(hold, Lead));
    }

    private void Accept()
    {
        var period = new Period(OneOf(Rows(db => db.Orders.Where(o => o.Exceptions > 0).Select(o => o.Period))));
        _book.Do<ExceptionQueue>(q => q.Accept(period, OneOf(q.Find(period)).Cause, null, "known", Lead));
    }

    private void Adjust()
    {
        var payee = OneOf([.. Rules.Payees]);
        _book.Do<Adjustments>(a => a.Add(payee.Id.Value, Day(), Major(_random.Next(1, 3000)), OneOf(["EUR", payee.PayoutCurrency.Code]), AdjustmentKind.Bonus, "thanks", Lead));
    }

    private void AddAdvance()
    {
        var payee = OneOf([.. Rules.Payees]).Id.Value;
        _book.Do<Advances>(a => a.Add(payee, Day(), $"{_random.Next(1, 90)}", "ahead", Lead));
    }

    private void MoveOn() => _book.MoveTo(_book.Get<BookClock, DateOnly>(c => c.Today).AddDays(_random.Next(1, 40)));

    private void Gather()
    {
        var today = _book.Get<BookClock, DateOnly>(c => c.Today);
        var some = Chance(0.4) ? Some(Rules.Payees, 5).Select(p => p.Id.Value).ToArray() : null;
        _book.Do<PayRunSteps>(s => s.Gather(today.AddDays(-_random.Next(60)), some, Lead));
    }

    private int Run(params RunState[] states) => OneOf(Rows(db => db.PayRuns.Where(r => states.Contains(r.State)).Select(r => r.Id)));

    private void Lock()
    {
        var run = Run(RunState.Gathering);
        _book.Do<PayRunSteps>(s => s.Lock(run, Lead));
    }

    private void Unlock()
    {
        var run = Run(RunState.Locked);
        _book.Do<PayRunSteps>(s => s.Unlock(run, "once more", Lead));
    }

    private void ApproveRun()
    {
        var run = Run(RunState.Locked);
        _book.Do<PayRunSteps>(s => s.LookAt(run, null, Approver));
        var sums = _book.Get<PayRunDesk, string>(d => d.Find(run)!.ControlText);
        _book.Do<PayRunSteps>(s => s.Approve(run, sums, Approver));
    }

    private void SetAside()
    {
        var run = Run(RunState.Locked, RunState.Approved);
        var remittance = OneOf(Rows(db => db.Remittances.Where(r => r.RunId == run && r.Paid > 0).Select(r => r.Id)));
        _book.Do<PayRunSteps>(s => s.SetAside(run, remittance, "asked", Lead));
    }

    private void Issue()
    {
        var run = Run(RunState.Approved);
        _book.Do<IssueRun>(i => i.Issue(run, Lead));
        var payments = Rows(db => db.Remittances.Where(r => r.RunId == run && r.Paid > 0 && r.State == RemittanceState.Ready).Select(r => r.Id));
        if (payments.Length > 0) _book.Do<HandPayments>(h => h.MarkPaid(run, payments, _book.Get<BookClock, DateOnly>(c => c.Today), "by hand", null, Lead));
    }
}
