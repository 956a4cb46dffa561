using EvenSplit.Core;

namespace EvenSplit.Formats.Csv;

/// <summary>
/// rates.csv: a row is a day, as central banks publish them (date, then a column per currency: units for one of the base), or one rate (date, from, to, rate).
/// </summary>
public static class RatesCsv
{
    private const string NotPublished = "N/A";

    public static CsvColumns Columns { get; } = new("rates", ["date"], ["from", "to", "rate", .. Currency.All.Select(c => c.Code)]);

    /// <param name="baseCurrency">What the columns' figures are for one of.</param>
    public static (IReadOnlyList<ExchangeRate> Rates, IReadOnlyList<RowFault> Faults) Read(IEnumerable<CsvRow> rows, BookTime time, Currency baseCurrency)
    {
        var (rates, faults) = (new List<ExchangeRate>(), new List<RowFault>());
        foreach (var row in rows)
        {
            var cells = new CellReader(row, time);
            var date = cells.Date("date");
            if (row["rate"].Length > 0 || row["from"].Length > 0)
            {
                var (from, to) = (cells.Currency("from"), cells.Currency("to"));
                if (from == to && from.Code is not null) cells.Refuse("to", "another currency than in from");
                if (Rate.TryParse(row["rate"], out var rate) && rate.Millionths > 0) rates.Add(new ExchangeRate(date, from, to, rate));
                else cells.Refuse("rate", "a rate above 0 with at most six decimals, such as 0.862");
            }
            foreach (var currency in Currency.All.Where(c => c != baseCurrency && row[c.Code].Length > 0 && row[c.Code] != NotPublished))
            {
                if (Rate.TryParse(row[currency.Code], out var rate) && rate.Millionths > 0) rates.Add(new ExchangeRate(date, baseCurrency, currency, rate));
                else cells.Refuse(currency.Code, "a rate above 0 with at most six decimals, such as 0.862");
            }
            faults.AddRange(cells.Faults);
        }
        return (faults.Count == 0 ? rates : [], faults);
    }
}
