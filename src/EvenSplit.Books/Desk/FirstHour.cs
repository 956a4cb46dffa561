using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Desk;

public enum FirstStepKind { Policies, Sales, Unknown, People, Agreements, Fees, LookOver, SecondPerson, Run }

/// <summary>One thing a new book needs, in the order the work needs it.</summary>
/// <param name="Missing">What is still missing, in figures; empty where nothing is.</param>
public sealed record FirstStep(FirstStepKind Kind, bool IsDone, string Words, string Why, string Missing);

/// <summary>The way of a new book from nothing to its first run.</summary>
public sealed class FirstHour(BookDbContext db, BookCache cache, UnknownThings unknown, BookClock clock) : IUseCase
{
    /// <returns>Null once there is a run: then the month end leads on.</returns>
    public IReadOnlyList<FirstStep>? Find()
    {
        if (db.PayRuns.Any()) return null;
        var (book, today) = (cache.Get(db), clock.Today);
        var orders = db.Orders.LongCount();
        var waiting = db.Quarantine.Where(q => q.State == QuarantineState.Waiting).Select(q => new { q.ImportId, q.Group }).Distinct().Count();
        var (products, takers, codes) = (unknown.Products(), unknown.Takers(), unknown.Codes());
        var onNothing = book.Rules.Payees.Count(p => p.Memberships.Count == 0);
        var exceptions = db.OrderExceptions.Where(e => e.IsOpen).GroupBy(e => e.Code).Select(g => new { g.Key, Count = g.Count() }).ToDictionary(g => g.Key, g => g.Count);
        var rates = exceptions.GetValueOrDefault(ExceptionCode.FeeMissing) + exceptions.GetValueOrDefault(ExceptionCode.RateMissing);
        var others = db.Users.Count() > 1 || book.Record.WorksAlone;
        return
        [
            new(FirstStepKind.Policies, db.Audit.Any(a => a.Action == "set policies"), "Say who counts as having brought an order", "The first click or the last, and whether buyers earn on their own orders. Changed later, it works every order out again.",
                $"now: the {(book.Rules.Policy.ClickModel == ClickModel.First ? "first" : "last")} click"),
            new(FirstStepKind.Sales, orders + waiting > 0, "Bring in a file of orders", "It names the products, channels and codes there are; what the book does not know is collected.", orders + waiting > 0 ? "" : "no order yet"),
            new(FirstStepKind.Unknown, orders > 0 && products.Count + codes.Count == 0, "Make what the file named", "Products its rows wait for, what channels and processors take, and codes nobody has, on one page.",
                Counted(waiting > 0 ? $"{MoneyWords.Count(waiting, "order or refund waits", "orders and refunds wait")} of {MoneyWords.Count(orders + waiting)}" : "", products.Count > 0 ? $"{MoneyWords.Count(products.Count, "product is", "products are")} not known" : "", codes.Count > 0 ? $"{MoneyWords.Count(codes.Count, "code belongs", "codes belong")} to nobody" : "", takers.Count > 0 ? $"{MoneyWords.Count(takers.Count, "channel or processor has", "channels and processors have")} no fees yet" : "")),
            new(FirstStepKind.People, book.Rules.Payees.Any(), "Add who shares", "Affiliates who bring orders, collaborators and vendors who share in products.", book.Rules.Payees.Any() ? "" : "nobody yet"),
            new(FirstStepKind.Agreements, book.Rules.Agreements.Any() && onNothing == 0 && book.Rules.Payees.Any(), "Write an agreement and put them on it", "It says what is earned, on what, and for how long it is held.",
                !book.Rules.Agreements.Any() ? "no agreement yet" : onNothing > 0 ? $"{MoneyWords.Count(onNothing, "payee is", "payees are")} on none" : ""),
            new(FirstStepKind.Fees, orders > 0 && rates == 0, "Give fees and exchange rates", "Shares are of what is left after fees; amounts in other currencies need a rate.", rates > 0 ? $"{MoneyWords.Count(rates, "order lacks", "orders lack")} a fee or a rate" : ""),
            new(FirstStepKind.LookOver, orders > 0 && waiting == 0 && exceptions.Count == 0, "Look over what is left", "Rows that wait, and orders that need a decision.",
                Counted(waiting > 0 ? $"{MoneyWords.Count(waiting, "order or refund waits", "orders and refunds wait")}" : "", exceptions.Count > 0 ? MoneyWords.Count(exceptions.Values.Sum(), "exception") : "")),
            new(FirstStepKind.SecondPerson, others, "Add somebody who approves", "Whoever locks a run cannot release it.", others ? "" : "you are the only one"),
            new(FirstStepKind.Run, false, "Gather the first run", "It takes what has cleared by its day; nothing is paid before it is locked, approved and issued.", db.OpenSums.Any(s => s.ClearsOn <= today) ? "" : "nothing has cleared yet"),
        ];

        static string Counted(params string[] parts) => string.Join(", ", parts.Where(p => p.Length > 0));
    }
}
