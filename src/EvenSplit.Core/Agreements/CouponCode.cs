namespace EvenSplit.Core;

/// <summary>Coupon codes compare without regard to ASCII case (contract, section 3).</summary>
public static class CouponCode
{
    /// <summary>The code as it is compared: its ASCII letters small, all else as written.</summary>
    public static string Normal(string code) =>
        string.Create(code.Length, code, static (span, text) =>
        {
            for (var i = 0; i < text.Length; i++) span[i] = text[i] is >= 'A' and <= 'Z' ? (char)(text[i] | 0x20) : text[i];
        });
}
