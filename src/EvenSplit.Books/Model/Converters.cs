using System.Text.Json;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore.ChangeTracking;
using Microsoft.EntityFrameworkCore.Storage.ValueConversion;

namespace EvenSplit.Books.Model;

/// <summary>An instant as ticks in UTC, so that it sorts as a number.</summary>
public sealed class UtcTicks() : ValueConverter<DateTimeOffset, long>(instant => instant.UtcTicks, ticks => new DateTimeOffset(ticks, TimeSpan.Zero));

/// <summary>A fraction as millionths.</summary>
public sealed class Millionths() : ValueConverter<Rate, long>(rate => rate.Millionths, millionths => new Rate(millionths));

/// <summary>Which orders a change of rules touches, as JSON.</summary>
public sealed class TouchedOrdersText() : ValueConverter<IReadOnlyList<TouchedOrders>, string>(
    touched => JsonSerializer.Serialize(touched, JsonSerializerOptions.Default),
    text => JsonSerializer.Deserialize<IReadOnlyList<TouchedOrders>>(text, JsonSerializerOptions.Default)!);

/// <summary>A list that is set once and never changed within.</summary>
public sealed class SetOnce() : ValueComparer<IReadOnlyList<TouchedOrders>>((a, b) => ReferenceEquals(a, b), t => t.Count);
