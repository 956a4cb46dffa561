using System.Text.Json;

namespace EvenSplit.Formats.Scenarios;

/// <summary>
/// Reads a large scenario with its orders, which are most of it, in portions side by side: one pass finds where each order begins and
/// ends, and what is found is read meanwhile. Comes to what reading the file in one go comes to.
/// </summary>
internal static class OrdersSideBySide
{
    /// <summary>Below this many bytes sharing the work out costs more than it saves.</summary>
    private const int WorthIt = 1 << 20;

    private const int Portion = 512;

    private readonly record struct Piece(int Start, int Length);

    /// <returns>Null where the file is small, or is not as it must be: then it is to be read in one go, which tells why.</returns>
    /// <exception cref="JsonException">Some field has not the form it must have.</exception>
    public static ScenarioDocument? Read(ReadOnlyMemory<byte> json)
    {
        if (json.Length < WorthIt || Environment.ProcessorCount < 2) return null;
        var portions = new List<Task<OrderDocument[]>>();
        try
        {
            if (FindOrders(json, portions) is not { } list) return null;
            byte[] rest = [.. json.Span[..list.Start], .. "[]"u8, .. json.Span[(list.Start + list.Length)..]];
            var scenario = JsonSerializer.Deserialize<ScenarioDocument>(rest, ScenarioJson.Options);
            return scenario is null ? null : scenario with { Orders = [.. portions.SelectMany(p => p.GetAwaiter().GetResult())] };
        }
        finally
        {
            // Nothing goes on in the background once the answer is there; a fault among them has been told by the first.
            Task.WhenAll(portions).ContinueWith(_ => { }, TaskScheduler.Default).Wait();
        }
    }

    /// <summary>Where the list of orders is; starts reading portions as they are found.</summary>
    private static Piece? FindOrders(ReadOnlyMemory<byte> json, List<Task<OrderDocument[]>> portions)
    {
        var reader = new Utf8JsonReader(json.Span);
        Piece? orders = null;
        if (!reader.Read() || reader.TokenType != JsonTokenType.StartObject) return null;
        while (reader.Read() && reader.TokenType == JsonTokenType.PropertyName)
        {
            var isOrders = reader.ValueTextEquals("orders"u8);
            reader.Read();
            if (!isOrders)
            {
                reader.Skip();
                continue;
            }
            if (orders is not null || reader.TokenType != JsonTokenType.StartArray) return null;
            var start = (int)reader.TokenStartIndex;
            var found = new List<Piece>(Portion);
            while (reader.Read() && reader.TokenType == JsonTokenType.StartObject)
            {
                var at = (int)reader.TokenStartIndex;
                reader.Skip();
                found.Add(new Piece(at, (int)reader.BytesConsumed - at));
                if (found.Count < Portion) continue;
                portions.Add(Start(json, found));
                found = new List<Piece>(Portion);
            }
            if (reader.TokenType != JsonTokenType.EndArray) return null;
            portions.Add(Start(json, found));
            orders = new Piece(start, (int)reader.BytesConsumed - start);
        }
        return orders;
    }

    private static Task<OrderDocument[]> Start(ReadOnlyMemory<byte> json, List<Piece> pieces) => Task.Run(() =>
    {
        var orders = new OrderDocument[pieces.Count];
        for (var i = 0; i < orders.Length; i++)
        {
            orders[i] = JsonSerializer.Deserialize<OrderDocument>(json.Span.Slice(pieces[i].Start, pieces[i].Length), ScenarioJson.Options)!;
        }
        return orders;
    });
}
