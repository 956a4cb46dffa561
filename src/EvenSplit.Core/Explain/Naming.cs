namespace EvenSplit.Core;

/// <summary>What ids are called by the people who read a trace.</summary>
public sealed record Naming(
    Func<PayeeId, string> Payee, Func<AgreementId, string> Agreement, Func<ProductId, string> Product);
