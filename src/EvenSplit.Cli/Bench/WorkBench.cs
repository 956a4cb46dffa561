using System.Diagnostics;
using System.Globalization;
using System.Text;
using EvenSplit.Books;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Forms;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.Sales;
using EvenSplit.Books.Terms;
using EvenSplit.Core;
using Microsoft.EntityFrameworkCore;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Cli.Bench;

/// <summary>
/// What changes cost in a large book: one order, refund or assignment that comes late, many of a product long sold out, a run from gathering to its lock, a ladder
/// published a month back. The book is changed by it and checked at the end.
/// </summary>
internal sealed class WorkBench(BookPlace place)
{
    private const string By = "bench";
    private const int Times = 15;
    private const int LateOrders = 4_000;

    private readonly ServiceProvider _services = OneBook.At(place);
    private int _imports;

    /// <param name="only">"changes", "writers", "rehearsal", "run" or "ladder"; empty for all.</param>
    public int Run(string only)
    {
        _services.PrepareBook();
        if (only is "" or "changes") Changes();
        if (only is "" or "writers") Writers();
        if (only is "" or "rehearsal") Rehearse();
        if (only is "" or "run") Run(new DateOnly(2026, 11, 30));
        if (only is "" or "ladder") Ladder();
        var check = Do<BookCheck, CheckResult>(c => c.Run());
        foreach (var line in check.Lines.Where(l => l.Differences > 0)) Console.WriteLine($"DIFFERS {line.Name}: {line.Shown[0]}");
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"check of the book afterwards: {MoneyWords.Count(check.Differences, "difference")}, {check.Took.TotalSeconds:F0} s"));
        return check.Differences == 0 ? 0 : 1;
    }

    private void Changes()
    {
        var friends = Do<BookDbContext, PayeeCodeRecord[]>(db => [.. db.PayeeCodes.AsNoTracking().Where(c => c.PayeeId.StartsWith("hedge-friend")).OrderBy(c => c.PayeeId)]);
        var (payee, codes) = (friends[0].PayeeId, Array.ConvertAll(friends, c => c.Code));
        Console.WriteLine("one change, two months after the fact           median   slowest   memory");
        Repeated("an order of a payee on a ladder", i => Import(ImportKind.Orders, OrdersHead, Order($"late-{i}", codes[i % codes.Length], "guide-hedgerow", 24.00m, i)));
        Repeated("a refund", i => Import(ImportKind.Refunds, RefundsHead, $"late-refund-{i},B-{(i * 3000) + 5:D7},2026-11-30T10:00:00Z,refund,1,1,1.00,0.00"));
        Repeated("an order given to another payee", i => Do<AssignOrders, int>(a => a.Assign(a.ToOne([$"B-{(i * 2000) + 7:D7}"], payee, "measured"), By).Entries));
        Timed($"{LateOrders:N0} orders of a product long sold out", () =>
        {
            var rows = string.Join('\n', Enumerable.Range(0, LateOrders).Select(i => Order($"back-{i}", codes[i % codes.Length], "print-oak", 56.00m, i)));
            return Import(ImportKind.Orders, OrdersHead, rows).Added;
        });
    }

    /// <summary>How long somebody's small change takes while a file comes in.</summary>
    private void Writers()
    {
        var path = Path.Combine(place.Folder, "writers.csv");
        BenchFile.Write(path, 12_000, Do<BookDbContext, List<PayeeCodeRecord>>(db => db.PayeeCodes.AsNoTracking().ToList()), "W");
        int id;
        using (var content = File.OpenRead(path)) id = Do<ImportFiles, int>(f => f.QueueAsync(ImportKind.Orders, "writers.csv", content, By).GetAwaiter().GetResult());
        var importing = Task.Run(() => Do<ReadImport, ImportRecord>(r => r.Run(id)));
        var times = new List<double>();
        while (!importing.IsCompleted)
        {
            var watch = Stopwatch.StartNew();
            Do<BookDbContext, int>(db =>
            {
                db.Audit.Add(new AuditRecord { At = DateTimeOffset.UtcNow, By = By, Action = "measure", Subject = "a small change" });
                return db.SaveChanges();
            });
            times.Add(watch.Elapsed.TotalMilliseconds);
            Thread.Sleep(50);
        }
        importing.GetAwaiter().GetResult();
        times.Sort();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{"somebody's small change while a file comes in",-44} {times[times.Count / 2],6:F0} ms {times[(int)(times.Count * 0.95)],6:F0} ms {times[^1],6:F0} ms  (median, 95 of 100, slowest of {times.Count})"));
    }

    private void Run(DateOnly asOf)
    {
        var id = 0;
        Timed("gathering a run", () => id = Do<PayRunSteps, int>(s => s.Gather(asOf, By)));
        Timed("looking at it, payees", () => Do<PayRunDesk, int>(d => d.Find(id)!.Rows.Count));
        Timed("locking it, entries", () =>
        {
            Do<PayRunSteps, int>(s =>
            {
                s.Lock(id, By);
                return 0;
            });
            return Do<BookDbContext, long>(db => db.TakenSums.Where(s => s.RunId == id).Sum(s => s.Entries));
        });
        Timed("looking at it locked, payees", () => Do<PayRunDesk, int>(d => d.Find(id)!.Rows.Count));
        Timed("unlocking it", () => Do<PayRunSteps, int>(s =>
        {
            s.Unlock(id, "measured", By);
            s.Discard(id, By);
            return 0;
        }));
        // What unlocking asks for is not what is measured next.
        Do<BookDbContext, int>(db => db.RecalculationOrders.ExecuteDelete());
        Recalculate();
    }

    /// <summary>The first of the last 29 days of the book.</summary>
    private static readonly DateOnly Lately = new(2026, 11, 2);

    private void Rehearse()
    {
        Timed("rehearsing a ladder over 29 days, orders", () => Rehearsed("friends-of-the-hedge", OnLadder("friends-of-the-hedge", Lately)));
        Timed("the same over 70 days", () => Rehearsed("friends-of-the-hedge", OnLadder("friends-of-the-hedge", new DateOnly(2026, 9, 22))));
        var other = Do<BookDbContext, string>(db => db.Agreements.AsNoTracking().First(a => a.Basis == Basis.Contribution && !db.ProgressTracks.Any(t => t.Agreement == a.Id)).Id);
        Timed("the same where nobody was on one before", () => Rehearsed(other, OnLadder(other, Lately)));
    }

    private int Rehearsed(string agreement, AgreementDraft draft)
    {
        var (id, faults) = Do<Rehearsals, (int? Id, IReadOnlyList<FieldFault> Faults)>(r => r.Ask(0, agreement, draft, null, null, false, By));
        if (id is null) throw new InvalidOperationException($"{faults[0].Field}: {faults[0].Message}");
        Do<Rehearsals, int>(r =>
        {
            r.RunAll();
            return 0;
        });
        var view = Do<Rehearsals, RehearsalView>(r => r.Find(id.Value)!);
        return view.Result?.Orders ?? throw new InvalidOperationException(view.Record.Fault);
    }

    private AgreementDraft OnLadder(string agreement, DateOnly from) => Do<AgreementDesk, AgreementDraft>(d => d.Draft(agreement)!) with
    {
        From = from,
        Terms =
        [
            new TermDraft
            {
                Cases =
                [
                    new CaseDraft { Sales = "3000", Window = ProgressWindow.Year, Percent = "11" },
                    new CaseDraft { Sales = "900", Window = ProgressWindow.Month, Percent = "10" },
                    new CaseDraft { Percent = "8.5" },
                ],
            },
        ],
    };

    private void Ladder()
    {
        var draft = OnLadder("friends-of-the-hedge", Lately);
        Do<AgreementDesk, int>(d => d.Publish("friends-of-the-hedge", draft, By).Faults.Count);
        var watch = Stopwatch.StartNew();
        var orders = Recalculate();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{"working out again after a ladder 29 days back",-44} {watch.Elapsed.TotalSeconds,8:F1} s  {orders:N0} orders, {orders / watch.Elapsed.TotalSeconds:N0} a second"));
    }

    private long Recalculate()
    {
        Do<RecalculateOrders, int>(r =>
        {
            r.RunAll();
            return 0;
        });
        return Do<RecalculateOrders, long>(r => r.Last()?.Total ?? 0);
    }

    private const string OrdersHead = "order_id,channel,placed_at,paid_at,currency,processor,customer,prices_include_tax,coupon_codes,line_id,product,quantity,unit_price,line_tax,requires_shipping,payment_number";
    private const string RefundsHead = "refund_id,order_id,at,kind,line_id,quantity,goods,tax";

    private static string Order(string id, string code, string product, decimal price, int number)
    {
        var at = new DateTimeOffset(2026, 9, 1, 6, 0, 0, TimeSpan.Zero).AddMinutes(number * 7).ToString("yyyy-MM-dd'T'HH:mm:ss'Z'", CultureInfo.InvariantCulture);
        return string.Create(CultureInfo.InvariantCulture, $"{id},shop,{at},{at},EUR,card,new,yes,{code},1,{product},1,{price:F2},0.00,yes,1");
    }

    private ImportRecord Import(ImportKind kind, string head, string rows)
    {
        using var content = new MemoryStream(Encoding.UTF8.GetBytes(head + "\n" + rows + "\n"));
        var id = Do<ImportFiles, int>(f => f.QueueAsync(kind, $"bench-{++_imports}.csv", content, By).GetAwaiter().GetResult());
        var import = Do<ReadImport, ImportRecord>(r => r.Run(id));
        return import is { State: ImportState.Done, Quarantined: 0 } ? import : throw new InvalidOperationException($"{import.Fault} {import.Quarantined} in quarantine: {Do<BookDbContext, string?>(db => db.Quarantine.Select(q => q.Fault).FirstOrDefault())}");
    }

    private void Repeated(string what, Func<int, object> change)
    {
        var (times, memory) = (new List<double>(), new List<long>());
        for (var i = 0; i <= Times; i++)
        {
            var (before, watch) = (GC.GetTotalAllocatedBytes(), Stopwatch.StartNew());
            change(i);
            // The first compiles what it needs.
            if (i == 0) continue;
            times.Add(watch.Elapsed.TotalMilliseconds);
            memory.Add(GC.GetTotalAllocatedBytes() - before);
        }
        times.Sort();
        memory.Sort();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{what,-44} {times[Times / 2],6:F0} ms {times[^1],6:F0} ms {memory[Times / 2] / 1048576.0,6:F1} MB"));
    }

    private static void Timed(string what, Func<long> work)
    {
        var watch = Stopwatch.StartNew();
        var count = work();
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{what,-44} {watch.Elapsed.TotalSeconds,8:F2} s  {count:N0}"));
    }

    private TResult Do<T, TResult>(Func<T, TResult> work) where T : notnull
    {
        using var scope = _services.CreateScope();
        return work(scope.ServiceProvider.GetRequiredService<T>());
    }
}
