using EvenSplit.Books.Ledger;
using EvenSplit.Core;

namespace EvenSplit.Web.Pages;

/// <summary>A table of entries, on a payee's page or among the books.</summary>
public sealed record EntriesView(Period Period, EntryPage Page, bool ShowPayee);
