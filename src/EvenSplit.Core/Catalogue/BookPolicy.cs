namespace EvenSplit.Core;

public enum ClickModel { First, Last }

/// <summary>The policies of one seller's book that the calculation depends on.</summary>
public sealed record BookPolicy(Currency Currency, BookTime Time, ClickModel ClickModel, bool AllowSelfReferral = false);
