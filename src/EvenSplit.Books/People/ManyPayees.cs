using EvenSplit.Books.Model;
using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Books.People;

/// <summary>Does for many payees at once what is done for one on their page: all of it or nothing, as one change.</summary>
public sealed class ManyPayees(BookDbContext db, BookCache cache, AgreementDesk agreements, PayeeDesk desk, PayeeCodes codes, RulesChange rulesChange) : IUseCase
{
    /// <exception cref="RefusedException">Nobody is marked, no such agreement, or somebody cannot be on it then.</exception>
    public void PutOn(IReadOnlyCollection<string> payees, string agreement, DateOnly? from, string by)
    {
        Demand(payees);
        if (from is null) throw new RefusedException("Say from which day.", "From");
        if (!db.Agreements.Any(a => a.Id == agreement)) throw new RefusedException("Choose an agreement.", "Agreement");
        using var change = rulesChange.Begin();
        foreach (var payee in payees) agreements.PutOn(agreement, payee, from.Value, by);
        change.Commit();
    }

    /// <param name="schedule">In the words of payees.csv; empty leaves each as it is.</param>
    /// <param name="onHold">Null leaves each as it is.</param>
    /// <param name="holdDays">Empty leaves each as it is.</param>
    /// <exception cref="RefusedException">Nobody is marked, nothing is said, or something cannot be read.</exception>
    public void Change(IReadOnlyCollection<string> payees, string schedule, bool? onHold, int? holdDays, string by)
    {
        Demand(payees);
        if (schedule.Length == 0 && onHold is null && holdDays is null) throw new RefusedException("Choose what is to change.", "Schedule");
        using var change = rulesChange.Begin();
        foreach (var payee in payees)
        {
            var draft = desk.Draft(payee)!;
            var (_, faults) = desk.Save(payee, draft with { Schedule = schedule.Length > 0 ? schedule : draft.Schedule, OnHold = onHold ?? draft.OnHold, HoldDays = holdDays ?? draft.HoldDays }, by);
            if (faults is [var fault, ..]) throw new RefusedException($"{draft.Name}: {fault.Message}", fault.Field);
        }
        change.Commit();
    }

    /// <summary>Gives each a code made by a pattern, in which {name} stands for the payee's name, {first} for its first word and {id} for the id, in capital letters and digits.</summary>
    /// <exception cref="RefusedException">Nobody is marked, the pattern makes the same code of all, or a code is taken.</exception>
    public IReadOnlyList<string> GiveCodes(IReadOnlyCollection<string> payees, string pattern, DateOnly? from, DateOnly? to, string by)
    {
        Demand(payees);
        var book = cache.Get(db);
        string[] made = [.. payees.Select(p => Made(pattern.Trim(), p, book.PayeeName(p)))];
        if (made.Any(m => m.Length == 0)) throw new RefusedException("Write a pattern such as {first}10.", "Pattern");
        if (made.GroupBy(CouponCode.Normal).FirstOrDefault(g => g.Count() > 1) is { } twice) throw new RefusedException($"The pattern makes {twice.First()} for {twice.Count()} of them; write one that tells them apart, with {{name}} or {{id}}.", "Pattern");
        using var change = rulesChange.Begin();
        foreach (var (payee, code) in payees.Zip(made)) codes.Add(payee, code, from, to, by);
        change.Commit();
        return made;
    }

    private static string Made(string pattern, string id, string name) => pattern
        .Replace("{name}", Letters(name), StringComparison.OrdinalIgnoreCase)
        .Replace("{first}", Letters(name.Split(' ', StringSplitOptions.RemoveEmptyEntries).FirstOrDefault() ?? ""), StringComparison.OrdinalIgnoreCase)
        .Replace("{id}", Letters(id), StringComparison.OrdinalIgnoreCase);

    private static string Letters(string text) => new([.. text.ToUpperInvariant().Where(char.IsAsciiLetterOrDigit)]);

    private void Demand(IReadOnlyCollection<string> payees)
    {
        if (payees.Count == 0) throw new RefusedException("Mark at least one payee.", "Marked");
        if (payees.FirstOrDefault(p => !db.Payees.Any(k => k.Id == p)) is { } unknown) throw new RefusedException($"There is no payee {unknown}.", "Marked");
    }
}
