using EvenSplit.Books;

namespace EvenSplit.Web.Pages;

/// <summary>The fields in which somebody shows their second factor.</summary>
/// <param name="CodeField">What the code's field is called in the form.</param>
public sealed record SecondFactorFields(string CodeField, SecondFactorView Has);
