using System.Net;
using System.Security.Cryptography;
using System.Threading.RateLimiting;
using Microsoft.AspNetCore.DataProtection;

namespace EvenSplit.Web.Serving;

/// <summary>Keeps machines and floods from the public pages: so many a while from one network and in all, a field people do not see, and a stamp that says when the page was opened.</summary>
public sealed class ApplyThrottle : IDisposable
{
    /// <summary>Its field is not shown; whoever fills it in is no person.</summary>
    public const string Trap = "Homepage";

    private const int OfOneNetwork = 10, InAll = 200;

    private static readonly TimeSpan Window = TimeSpan.FromMinutes(10), Quickest = TimeSpan.FromSeconds(2), Longest = TimeSpan.FromHours(24);

    private readonly ITimeLimitedDataProtector _stamps;
    private readonly PartitionedRateLimiter<IPAddress> _limits;

    public ApplyThrottle(IDataProtectionProvider protection)
    {
        _stamps = protection.CreateProtector("apply").ToTimeLimitedDataProtector();
        _limits = PartitionedRateLimiter.CreateChained(Limiter(NetworkOf, OfOneNetwork), Limiter(_ => "", InAll));
    }

    /// <summary>Says when the page was opened; sealed.</summary>
    public string Stamp() => _stamps.Protect(DateTimeOffset.UtcNow.Ticks.ToString(System.Globalization.CultureInfo.InvariantCulture), Longest);

    /// <summary>What keeps this form from being taken; null where nothing does.</summary>
    public string? Refusal(string stamp, IPAddress? from)
    {
        using var lease = _limits.AttemptAcquire(from ?? IPAddress.None);
        if (!lease.IsAcquired) return "Too much comes from here at this time. Wait ten minutes, then send it again.";
        try
        {
            var opened = new DateTimeOffset(long.Parse(_stamps.Unprotect(stamp), System.Globalization.CultureInfo.InvariantCulture), TimeSpan.Zero);
            return DateTimeOffset.UtcNow - opened < Quickest ? "That was quicker than anybody writes. Send it again." : null;
        }
        catch (Exception fault) when (fault is CryptographicException or FormatException)
        {
            return "This page was open for too long. Send it again.";
        }
    }

    public void Dispose() => _limits.Dispose();

    private static PartitionedRateLimiter<IPAddress> Limiter(Func<IPAddress, string> of, int most) => PartitionedRateLimiter.Create<IPAddress, string>(address =>
        RateLimitPartition.GetFixedWindowLimiter(of(address), _ => new FixedWindowRateLimiterOptions { PermitLimit = most, Window = Window, QueueLimit = 0 }));

    /// <summary>One address of the old kind; of the new kind what one household has.</summary>
    private static string NetworkOf(IPAddress address)
    {
        if (address.IsIPv4MappedToIPv6) address = address.MapToIPv4();
        return address.AddressFamily == System.Net.Sockets.AddressFamily.InterNetworkV6 ? Convert.ToHexString(address.GetAddressBytes().AsSpan(0, 8)) : address.ToString();
    }
}
