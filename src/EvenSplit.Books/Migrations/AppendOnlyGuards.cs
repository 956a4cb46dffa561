using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>What must never be edited is kept so by the database, not only by the code.</summary>
internal static class AppendOnlyGuards
{
    private static readonly (string Table, string Reason)[] NeverDeleted =
    [
        ("Entries", "an entry is never deleted, only followed by another"),
        ("AgreementVersions", "a published version is never deleted"),
        ("Remittances", "a locked remittance is never deleted"),
        ("Recoupments", "what a locked run recouped is never deleted"),
        ("Audit", "the audit log is never shortened"),
    ];

    private const string AdjustmentTakenOnce =
        """
        CREATE TRIGGER Adjustments_TakenOnce BEFORE UPDATE ON Adjustments WHEN OLD.RunId IS NOT NULL
        BEGIN SELECT RAISE(ABORT, 'an adjustment that a run has taken is never edited'); END;
        """;

    /// <summary>Who accepted what is never taken back or altered.</summary>
    public static void AcceptancesStay(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.Sql("CREATE TRIGGER Acceptances_NoDelete BEFORE DELETE ON Acceptances BEGIN SELECT RAISE(ABORT, 'an acceptance is never deleted'); END;");
        migrationBuilder.Sql("CREATE TRIGGER Acceptances_NoUpdate BEFORE UPDATE ON Acceptances BEGIN SELECT RAISE(ABORT, 'an acceptance is never edited'); END;");
    }

    /// <summary>What a customer was given is never taken back or altered.</summary>
    public static void StoreCreditsStay(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.Sql("CREATE TRIGGER StoreCredits_NoDelete BEFORE DELETE ON StoreCredits BEGIN SELECT RAISE(ABORT, 'store credit that was given is never deleted'); END;");
        migrationBuilder.Sql("CREATE TRIGGER StoreCredits_NoUpdate BEFORE UPDATE ON StoreCredits BEGIN SELECT RAISE(ABORT, 'store credit that was given is never edited'); END;");
    }

    public static void Create(MigrationBuilder migrationBuilder)
    {
        foreach (var (table, reason) in NeverDeleted)
        {
            migrationBuilder.Sql($"CREATE TRIGGER {table}_NoDelete BEFORE DELETE ON {table} BEGIN SELECT RAISE(ABORT, '{reason}'); END;");
        }
        foreach (var table in new[] { "AgreementVersions", "Recoupments", "Audit" })
        {
            migrationBuilder.Sql($"CREATE TRIGGER {table}_NoUpdate BEFORE UPDATE ON {table} BEGIN SELECT RAISE(ABORT, 'a row of {table} is never edited'); END;");
        }
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Entries_NoUpdate BEFORE UPDATE OF Id, OrderId, LinePosition, Payee, Agreement, Part, RefundId, Amount, Currency, PostedOn, Period, ClearsOn ON Entries
            BEGIN SELECT RAISE(ABORT, 'an entry is never edited, only followed by another'); END;
            """);
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Entries_OneRun BEFORE UPDATE OF RunId ON Entries WHEN OLD.RunId IS NOT NULL
            BEGIN SELECT RAISE(ABORT, 'an entry is in one run only'); END;
            """);
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Remittances_NoUpdate BEFORE UPDATE OF Id, RunId, Payee, Currency, Opening, Earned, Adjustments, Recouped, Withheld, TransferFee, Paid, Carried, Reason ON Remittances
            BEGIN SELECT RAISE(ABORT, 'the figures of a locked run never change'); END;
            """);
        migrationBuilder.Sql(AdjustmentTakenOnce);
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Adjustments_NoDelete BEFORE DELETE ON Adjustments WHEN OLD.RunId IS NOT NULL
            BEGIN SELECT RAISE(ABORT, 'an adjustment that a run has taken is never deleted'); END;
            """);
        migrationBuilder.Sql(
            """
            CREATE TRIGGER PayRuns_NoDelete BEFORE DELETE ON PayRuns WHEN OLD.State > 0
            BEGIN SELECT RAISE(ABORT, 'a locked run is never deleted'); END;
            """);
    }

    /// <summary>Lets the day on which an entry clears change until a run takes it; nothing else of it, and not after.</summary>
    public static void EntriesMayBeRedated(MigrationBuilder migrationBuilder)
    {
        migrationBuilder.Sql("DROP TRIGGER Entries_NoUpdate;");
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Entries_NoUpdate BEFORE UPDATE OF Id, OrderId, LinePosition, Payee, Agreement, Part, RefundId, Amount, Currency, PostedOn, Period ON Entries
            BEGIN SELECT RAISE(ABORT, 'an entry is never edited, only followed by another'); END;
            """);
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Entries_ClearsUntilTaken BEFORE UPDATE OF ClearsOn ON Entries WHEN OLD.RunId IS NOT NULL
            BEGIN SELECT RAISE(ABORT, 'an entry that a run has taken is never edited'); END;
            """);
    }

    /// <summary>A lock may be taken back until the run is approved, and nothing of a run that was; a payment's reference and file stay as they were issued.</summary>
    public static void LocksMayBeTakenBack(MigrationBuilder migrationBuilder)
    {
        foreach (var trigger in new[] { "Remittances_NoDelete", "Recoupments_NoDelete", "Entries_OneRun", "Adjustments_TakenOnce" }) migrationBuilder.Sql($"DROP TRIGGER {trigger};");
        foreach (var (table, what) in new[] { ("Remittances", "a remittance"), ("Recoupments", "a recoupment") })
        {
            migrationBuilder.Sql(
                $"""
                CREATE TRIGGER {table}_NoDelete BEFORE DELETE ON {table} WHEN (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1
                BEGIN SELECT RAISE(ABORT, '{what} of a run that was approved is never deleted'); END;
                """);
        }
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Entries_OneRun BEFORE UPDATE OF RunId ON Entries WHEN OLD.RunId IS NOT NULL AND (NEW.RunId IS NOT NULL OR (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1)
            BEGIN SELECT RAISE(ABORT, 'an entry is in one run only'); END;
            """);
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Adjustments_TakenOnce BEFORE UPDATE ON Adjustments WHEN OLD.RunId IS NOT NULL AND (NEW.RunId IS NOT NULL OR (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1)
            BEGIN SELECT RAISE(ABORT, 'an adjustment that a run has taken is never edited'); END;
            """);
        migrationBuilder.Sql(
            """
            CREATE TRIGGER Remittances_IssuedOnce BEFORE UPDATE OF EndToEnd, FileId ON Remittances WHEN OLD.EndToEnd IS NOT NULL
            BEGIN SELECT RAISE(ABORT, 'a payment that was issued is never issued again'); END;
            """);
        migrationBuilder.Sql("CREATE TRIGGER PaymentFiles_NoDelete BEFORE DELETE ON PaymentFiles BEGIN SELECT RAISE(ABORT, 'a payment file is never deleted'); END;");
        migrationBuilder.Sql(
            """
            CREATE TRIGGER PaymentFiles_NoUpdate BEFORE UPDATE OF Id, RunId, MessageId, Protected, Payments, Sum, Currency ON PaymentFiles
            BEGIN SELECT RAISE(ABORT, 'a payment file is never edited'); END;
            """);
    }

    /// <summary>For a migration that gives every adjustment a new column.</summary>
    public static void WithoutAdjustmentGuards(MigrationBuilder migrationBuilder, Action migrate)
    {
        migrationBuilder.Sql("DROP TRIGGER Adjustments_TakenOnce;");
        migrate();
        migrationBuilder.Sql(AdjustmentTakenOnce);
    }
}
