using BenchmarkDotNet.Attributes;
using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using EvenSplit.Core;
using EvenSplit.Formats.Scenarios;
using EvenSplit.RandomScenarios;

// What one core of calc costs, beside what System.Text.Json alone needs to read the same file into the same types.
var sizes = args.Length > 0 ? Array.ConvertAll(args, int.Parse) : [10_000, 100_000];
CalcBenchmark.Sizes = sizes;
BenchmarkRunner.Run<CalcBenchmark>(DefaultConfig.Instance
    .WithOptions(ConfigOptions.DisableOptimizationsValidator)
    .AddJob(Job.Default.WithToolchain(InProcessEmitToolchain.Instance).WithWarmupCount(2).WithIterationCount(5).WithInvocationCount(1).WithUnrollFactor(1)));

[MemoryDiagnoser]
public class CalcBenchmark
{
    public static int[] Sizes { get; set; } = [];

    private byte[] _file = [];
    private Facts _facts = null!;
    private BookResult _result = null!;

    [ParamsSource(nameof(Sizes))]
    public int Orders { get; set; }

    [GlobalSetup]
    public void Setup()
    {
        _file = RandomScenario.Bytes(2, ScenarioSize.ForBenchmark(Orders));
        _facts = ScenarioReader.Read(new MemoryStream(_file, 0, _file.Length, writable: false, publiclyVisible: true));
        _result = WholeBook.WorkOut(_facts);
    }

    [Benchmark(Baseline = true, Description = "read the JSON, no more")]
    public object? Json() => ScenarioReader.Parse(_file);

    [Benchmark(Description = "read and check")]
    public Facts Read() => ScenarioReader.Read(new MemoryStream(_file, 0, _file.Length, writable: false, publiclyVisible: true));

    [Benchmark(Description = "work out")]
    public BookResult WorkOut() => WholeBook.WorkOut(_facts);

    [Benchmark(Description = "write the result")]
    public void Write() => ResultWriter.Write(_result, Stream.Null);

    [Benchmark(Description = "calc: all of it")]
    public void Calc() => ResultWriter.Write(WholeBook.WorkOut(Read()), Stream.Null);
}
