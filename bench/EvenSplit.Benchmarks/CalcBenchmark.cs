using System.Runtime;
using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Columns;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using EvenSplit.Calc;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

// What calc costs, beside what System.Text.Json alone needs to read the same file into the same types.
var sizes = args.Length > 0 ? Array.ConvertAll(args, int.Parse) : [10_000, 100_000];
CalcBenchmark.Sizes = sizes;
BenchmarkRunner.Run<CalcBenchmark>(DefaultConfig.Instance
    .WithOptions(ConfigOptions.DisableOptimizationsValidator)
    .AddColumn(StatisticColumn.Median)
    // Collecting is forced by the benchmark itself, before it sets memory apart: afterwards it would give the memory back.
    .AddJob(Job.Default.WithToolchain(InProcessEmitToolchain.Instance).WithGcForce(false).WithWarmupCount(2).WithIterationCount(9).WithInvocationCount(1).WithUnrollFactor(1)));

[MemoryDiagnoser]
public class CalcBenchmark
{
    public static int[] Sizes { get; set; } = [];

    private byte[] _file = [];
    private Facts _facts = null!;
    private ResultText _text = null!;
    private (IReadOnlyList<RunResult> Runs, IReadOnlyList<CalculationException> Exceptions) _beside;

    [ParamsSource(nameof(Sizes))]
    public int Orders { get; set; }

    // What a part starts from is kept only for that part: elsewhere it would be garbage collection's work and nobody's use.
    [GlobalSetup(Targets = [nameof(Json), nameof(Read), nameof(Calc)])]
    public void MakeFile() => _file = RandomScenario.Bytes(2, ScenarioSize.ForBenchmark(Orders));

    [GlobalSetup(Target = nameof(WorkOut))]
    public void MakeFacts()
    {
        MakeFile();
        _facts = Read();
    }

    [GlobalSetup(Target = nameof(Write))]
    public void MakeResult()
    {
        MakeFacts();
        _text = new ResultText(_facts.Orders.Count);
        _beside = WholeBook.WorkOut(_facts, _text);
    }

    [Benchmark(Baseline = true, Description = "read the JSON, no more")]
    public object? Json() => ScenarioReader.Parse(_file);

    [Benchmark(Description = "read and check")]
    public Facts Read() => ScenarioReader.Read(new MemoryStream(_file, 0, _file.Length, writable: false, publiclyVisible: true));

    [Benchmark(Description = "work out and put into words")]
    public void WorkOut()
    {
        using var text = new ResultText(_facts.Orders.Count);
        WholeBook.WorkOut(_facts, text);
    }

    [Benchmark(Description = "write the result")]
    public void Write() => _text.Write(Stream.Null, _beside.Runs, _beside.Exceptions);

    // Each part has the memory that the command sets apart, reading the JSON alone too.
    [IterationSetup]
    public void Reserve()
    {
        GC.Collect();
        OnePassMemory.Reserve(_file.Length);
    }

    [Benchmark(Description = "calc: all of it")]
    public void Calc()
    {
        var facts = Read();
        using var text = new ResultText(facts.Orders.Count);
        var (runs, exceptions) = WholeBook.WorkOut(facts, text);
        text.Write(Stream.Null, runs, exceptions);
    }

    // Where the memory set apart did not do, collecting has begun again by itself.
    [IterationCleanup]
    public void GiveBack()
    {
        if (GCSettings.LatencyMode == GCLatencyMode.NoGCRegion) GC.EndNoGCRegion();
    }
}
