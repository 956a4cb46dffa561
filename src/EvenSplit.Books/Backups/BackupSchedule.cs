using System.Globalization;

namespace EvenSplit.Books.Backups;

/// <summary>Where and how the server backs its book up each night.</summary>
/// <param name="PassphraseFile">A file whose first line is the passphrase; it lies apart from the backups.</param>
/// <param name="Keep">How many are kept; older ones are removed once a new one is whole.</param>
public sealed record BackupPlan(string Folder, string PassphraseFile, int Keep);

/// <summary>Backs the book up by its plan, and removes what is older than it keeps.</summary>
public sealed class BackupSchedule(BookBackup backup) : IUseCase
{
    private const string Ending = ".evensplit", Stamp = "yyyyMMdd-HHmmss";

    /// <exception cref="RefusedException">The passphrase cannot be read, or the backup was refused; the older ones stay.</exception>
    public MadeBackup Make(BackupPlan plan, DateTimeOffset now)
    {
        if (!File.Exists(plan.PassphraseFile)) throw new RefusedException($"The passphrase is read from {plan.PassphraseFile}, which is not there.");
        Directory.CreateDirectory(plan.Folder);
        var made = backup.Make(Path.Combine(plan.Folder, now.ToString(Stamp, CultureInfo.InvariantCulture) + Ending), File.ReadLines(plan.PassphraseFile).FirstOrDefault("").Trim(), "the night");
        foreach (var old in Kept(plan).SkipLast(plan.Keep).ToArray()) File.Delete(old);
        return made;
    }

    /// <summary>Those that are there, the oldest first. Other files of the folder are not touched.</summary>
    public static IReadOnlyList<string> Kept(BackupPlan plan) => !Directory.Exists(plan.Folder) ? [] : [.. Directory.EnumerateFiles(plan.Folder, "*" + Ending)
        .Where(f => DateTime.TryParseExact(Path.GetFileNameWithoutExtension(f), Stamp, CultureInfo.InvariantCulture, DateTimeStyles.None, out _)).Order(StringComparer.Ordinal)];
}
