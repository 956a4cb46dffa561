using System.Collections.Concurrent;

namespace EvenSplit.Web.Serving;

/// <summary>
/// Slows down whoever guesses: by the address and the name they try, and by the address alone. Nobody can keep somebody else out by it, and it counts names that are
/// not known like those that are.
/// </summary>
public sealed class SignInThrottle(TimeProvider? time = null)
{
    private const int MostOfName = 6;
    private const int MostOfAddress = 60;
    private const int MostKept = 10_000;

    private static readonly TimeSpan Lasts = TimeSpan.FromMinutes(10);

    private readonly TimeProvider _time = time ?? TimeProvider.System;
    private readonly ConcurrentDictionary<(string Address, string Name), (int Count, DateTimeOffset Since)> _failures = [];

    public const string TooMany = "Too many tries. Wait ten minutes, then try again.";

    /// <summary>Codes of the second factor are counted by person, wherever they come from: whoever tries them knows the password.</summary>
    private const string Codes = "codes";

    public bool IsTooManyCodes(string userId) => Count((Codes, Known(userId))) >= MostOfName;

    public void FailedCode(string userId) => Add((Codes, Known(userId)));

    public bool IsTooMany(string address, string name) => Count((address, Known(name))) >= MostOfName || Count((address, "")) >= MostOfAddress;

    public void Failed(string address, string name)
    {
        if (_failures.Count > MostKept)
        {
            foreach (var (key, (_, since)) in _failures) if (since + Lasts < _time.GetUtcNow()) _failures.TryRemove(key, out _);
        }
        Add((address, Known(name)));
        Add((address, ""));
    }

    private void Add((string, string) key) =>
        _failures.AddOrUpdate(key, (1, _time.GetUtcNow()), (_, known) => known.Since + Lasts < _time.GetUtcNow() ? (1, _time.GetUtcNow()) : (known.Count + 1, known.Since));

    public void Succeeded(string address, string name) => _failures.TryRemove((address, Known(name)), out _);

    private int Count((string, string) key) => _failures.TryGetValue(key, out var known) && known.Since + Lasts >= _time.GetUtcNow() ? known.Count : 0;

    private static string Known(string name) => name.Trim().ToUpperInvariant();
}
