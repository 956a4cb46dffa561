using System.Globalization;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;

namespace EvenSplit.Books.Model;

/// <summary>A progress state as one short text: its date, then per window the running and the highest sales, orders and earnings.</summary>
internal sealed class ProgressStateText() : ValueConverter<ProgressState, string>(state => Write(state), text => Read(text))
{
    private static string Write(ProgressState state) => string.Join(
        ';', state.On.DayNumber.ToString(CultureInfo.InvariantCulture), Text(state.Lifetime), Text(state.Month), Text(state.Quarter), Text(state.Year));

    private static string Text(WindowState window) => string.Create(
        CultureInfo.InvariantCulture,
        $"{window.Running.Sales} {window.Running.Orders} {window.Running.Earned} {window.Highest.Sales} {window.Highest.Orders} {window.Highest.Earned}");

    private static ProgressState Read(string text)
    {
        var parts = text.Split(';');
        return new ProgressState(
            DateOnly.FromDayNumber(int.Parse(parts[0], CultureInfo.InvariantCulture)), Window(parts[1]), Window(parts[2]), Window(parts[3]), Window(parts[4]));
    }

    private static WindowState Window(string text)
    {
        var figures = Array.ConvertAll(text.Split(' '), f => long.Parse(f, CultureInfo.InvariantCulture));
        return new WindowState(new ProgressFigures(figures[0], figures[1], figures[2]), new ProgressFigures(figures[3], figures[4], figures[5]));
    }
}
