using System.Buffers.Binary;
using System.Security.Cryptography;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Journal;

/// <summary>A row of a closed month that is not as it was sealed.</summary>
/// <param name="OrderId">Null where the row is gone.</param>
public sealed record BrokenSeal(SealedKind Kind, long Id, string? OrderId, string Now);

/// <summary>
/// Seals what is posted and booked, in blocks of rows that follow one another by id: each row's fingerprint. Rows never change and later ones have greater ids, so that a block
/// is sealed once. By the side as rows come, and to the last one as a month is closed: then closing and proving read seals and not rows.
/// </summary>
public sealed class RowSeals(BookDbContext db) : IUseCase
{
    /// <summary>So many rows at most are sealed as one, in a few hundredths of a second.</summary>
    public const int BlockRows = 4096;

    private const int Entry = 16, Prefix = 8;

    private readonly SealableRows _rows = new(db);

    /// <summary>Seals a block where enough rows wait for it.</summary>
    /// <param name="rows">So many.</param>
    /// <returns>Whether one did.</returns>
    public bool SealNext(int rows = BlockRows)
    {
        foreach (var kind in Enum.GetValues<SealedKind>())
        {
            if (_rows.LastId(kind) - SealedTo(kind) < rows) continue;
            using var transaction = db.Database.BeginTransaction();
            var any = SealBlock(kind, rows);
            db.SaveChanges();
            transaction.Commit();
            db.ChangeTracker.Clear();
            if (any) return true;
        }
        return false;
    }

    /// <summary>Seals every row there is; the caller's transaction keeps others from posting meanwhile, and saves.</summary>
    internal void SealAll()
    {
        foreach (var kind in Enum.GetValues<SealedKind>())
        {
            while (SealBlock(kind, BlockRows)) db.SaveChanges();
        }
    }

    /// <summary>SHA-256 over the seals of a month, following on the closed month before; hexadecimal.</summary>
    internal string HashOf(Period month, string before)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        SealableRows.Add(hash, before);
        foreach (var kind in Enum.GetValues<SealedKind>())
        {
            SealableRows.Add(hash, (long)kind);
            foreach (var seal in Of(kind, month).Select(s => s.Hash)) SealableRows.Add(hash, seal);
        }
        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    /// <summary>Every row of a month against its seal.</summary>
    internal IEnumerable<BrokenSeal> Broken(Period month)
    {
        foreach (var kind in Enum.GetValues<SealedKind>())
        {
            var (known, count, isBroken) = (new HashSet<long>(), 0L, false);
            foreach (var seal in Of(kind, month).AsEnumerable())
            {
                var kept = Fingerprints(seal.Rows);
                count += kept.Count;
                using var whole = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
                var isAsSealed = true;
                foreach (var row in _rows.Read(kind, seal.FirstId - 1, seal.LastId, month))
                {
                    known.Add(row.Id);
                    whole.AppendData(row.Fingerprint);
                    if (kept.Remove(row.Id, out var fingerprint) && fingerprint == Short(row.Fingerprint)) continue;
                    (isAsSealed, isBroken) = (false, true);
                    yield return new BrokenSeal(kind, row.Id, row.OrderId, fingerprint == 0 ? "was not there" : "is not what it was");
                }
                isBroken |= kept.Count > 0;
                foreach (var id in kept.Keys) yield return new BrokenSeal(kind, id, null, "is gone");
                if (isAsSealed && kept.Count == 0 && Convert.ToHexStringLower(whole.GetHashAndReset()) != seal.Hash) yield return new BrokenSeal(kind, seal.FirstId, null, "has another seal than it had");
            }
            // Such as a row that had another id, or was of another month.
            if (!isBroken && _rows.Count(kind, month) == count) continue;
            foreach (var row in _rows.Read(kind, 0, month: month).Where(r => !known.Contains(r.Id))) yield return new BrokenSeal(kind, row.Id, row.OrderId, "was not there");
        }
    }

    private IOrderedQueryable<RowSealRecord> Of(SealedKind kind, Period month) => db.RowSeals.AsNoTracking().Where(s => s.Kind == kind && s.Period == month.Number).OrderBy(s => s.FirstId);

    private long SealedTo(SealedKind kind) => db.RowSeals.Where(s => s.Kind == kind).Max(s => (long?)s.LastId) ?? 0;

    /// <returns>Whether there was a row to seal.</returns>
    private bool SealBlock(SealedKind kind, int most)
    {
        var months = _rows.Read(kind, SealedTo(kind), most: most).GroupBy(r => r.Period).Select(g => (Period: g.Key, Rows: g.ToArray())).ToArray();
        foreach (var (period, rows) in months)
        {
            using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
            var prints = new byte[rows.Length * Entry];
            for (var i = 0; i < rows.Length; i++)
            {
                hash.AppendData(rows[i].Fingerprint);
                BinaryPrimitives.WriteInt64LittleEndian(prints.AsSpan(i * Entry), rows[i].Id);
                rows[i].Fingerprint.AsSpan(0, Prefix).CopyTo(prints.AsSpan(i * Entry + Prefix));
            }
            db.RowSeals.Add(new RowSealRecord
            {
                Kind = kind,
                Period = period,
                FirstId = rows[0].Id,
                LastId = rows[^1].Id,
                Count = rows.Length,
                Rows = prints,
                Hash = Convert.ToHexStringLower(hash.GetHashAndReset()),
            });
        }
        return months.Length > 0;
    }

    private static long Short(byte[] fingerprint) => BinaryPrimitives.ReadInt64LittleEndian(fingerprint);

    private static Dictionary<long, long> Fingerprints(byte[] rows)
    {
        var kept = new Dictionary<long, long>(rows.Length / Entry);
        for (var at = 0; at < rows.Length; at += Entry) kept[BinaryPrimitives.ReadInt64LittleEndian(rows.AsSpan(at))] = BinaryPrimitives.ReadInt64LittleEndian(rows.AsSpan(at + Prefix));
        return kept;
    }
}
