using EvenSplit.Books.Model;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;

namespace EvenSplit.Books;

/// <summary>Keeps the sign-ins of payees, in tables apart from those of the house.</summary>
public sealed class PayeeLoginStore(BookDbContext db) : UserOnlyStore<PayeeLogin, BookDbContext, string, IdentityUserClaim<string>, IdentityUserLogin<string>, PayeeLoginToken, PayeePasskey>(db);
