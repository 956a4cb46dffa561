using System.Globalization;
using EvenSplit.Core;

namespace EvenSplit.Books.Forms;

/// <summary>A field of a form that cannot be taken as it is, and what to do about it.</summary>
public sealed record FieldFault(string Field, string Message);

/// <summary>Reads what was typed into fields; what cannot be read becomes a fault at its field.</summary>
internal sealed class FieldReader
{
    private readonly List<FieldFault> _faults = [];

    public IReadOnlyList<FieldFault> Faults => _faults;

    public void Refuse(string field, string message) => _faults.Add(new FieldFault(field, message));

    public string Required(string field, string text, string otherwise)
    {
        if (text.Trim().Length == 0) Refuse(field, otherwise);
        return text.Trim();
    }

    public Currency Currency(string field, string code, string otherwise)
    {
        if (!Core.Currency.TryOf(code, out var currency)) Refuse(field, otherwise);
        return currency;
    }

    /// <summary>Major units, 0 or more; null where nothing was typed.</summary>
    public long? Amount(string field, string text, Currency currency)
    {
        if (text.Trim().Length == 0 || currency.Code is null) return null;
        if (Money.TryParseMajor(text.Trim(), currency, out var money, out var expected) && money.Minor >= 0) return money.Minor;
        Refuse(field, $"Expected {expected ?? "an amount of 0 or more"}.");
        return null;
    }

    /// <summary>A percentage from 0 to 100, such as 12.5 or 12.5 %; null where nothing was typed.</summary>
    public Rate? Percent(string field, string text)
    {
        var typed = text.Trim().TrimEnd('%').Trim();
        if (typed.Length == 0) return null;
        if (!decimal.TryParse(typed, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var percent)
            || !Rate.TryParse((percent / 100m).ToString(CultureInfo.InvariantCulture), out var rate))
        {
            Refuse(field, "Give a percentage such as 12.5, with at most four decimals.");
            return null;
        }
        if (rate.Millionths <= Rate.One) return rate;
        Refuse(field, "No share can be more than 100 %.");
        return null;
    }

    public int Days(string field, int? days)
    {
        const int most = 3650;
        if (days is < 0 or > most) Refuse(field, $"Give 0 to {most} days.");
        return Math.Clamp(days ?? 0, 0, most);
    }
}
