namespace EvenSplit.Formats.Events;

public enum SalesEventKind { Order, Payment, Refund, Click }

/// <summary>What a shop reports as it happens. Its fields are those of the files: an order's lines are rows of orders.csv, a refund's of refunds.csv.</summary>
/// <param name="Order">The order it is about; empty for a click that names a visitor only.</param>
/// <param name="Rows">One row a line; cells by column name, as the file would have them.</param>
public sealed record SalesEvent(SalesEventKind Kind, string Order, IReadOnlyList<IReadOnlyDictionary<string, string>> Rows);

/// <summary>A body that is no event; says where and what was expected.</summary>
public sealed class EventFaultException(string place, string message) : Exception(place.Length == 0 ? message : $"{place}: {message}");
