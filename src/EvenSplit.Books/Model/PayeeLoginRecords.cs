using Microsoft.AspNetCore.Identity;

namespace EvenSplit.Books.Model;

/// <summary>With what a payee signs in besides the mailed link, which always does. Its id is the payee's; it has no role and is nobody of the house.</summary>
public sealed class PayeeLogin : IdentityUser
{
    /// <summary>The codes of their authenticator app that were taken last, with a space between: each is good once.</summary>
    public string LastCodes { get; set; } = "";
}

/// <summary>The key of a payee's authenticator app.</summary>
public sealed class PayeeLoginToken : IdentityUserToken<string>;

/// <summary>A passkey of a payee.</summary>
public sealed class PayeePasskey : IdentityUserPasskey<string>;
