using System.Text;
using EvenSplit.Formats.Scenarios;

namespace EvenSplit.Formats.Tests;

/// <summary>A file too large to be copied into memory is read where it lies, and reads the same.</summary>
public sealed class LargeFileTests : IDisposable
{
    private readonly string _path = Path.GetTempFileName();

    [Fact]
    public void A_large_file_reads_as_a_small_one_does()
    {
        var sample = File.ReadAllBytes(Path.Combine(AppContext.BaseDirectory, "samples", "01-base-after-tax-shipping-fee.json"));
        using var small = new MemoryStream(sample);
        Assert.Equal(ScenarioReader.Read(small).Orders.Select(o => o.Id), Read(sample, after: []).Orders.Select(o => o.Id));
    }

    [Fact]
    public void Its_faults_are_told_with_their_places()
    {
        var fault = Assert.Single(Assert.Throws<ScenarioFaultException>(() => Read("{"u8.ToArray(), "x"u8.ToArray())).Faults);
        Assert.StartsWith("not JSON, line 1", fault.Message, StringComparison.Ordinal);
        fault = Assert.Single(Assert.Throws<ScenarioFaultException>(() => Read([], [0xff])).Faults);
        Assert.Contains("is not UTF-8", fault.Message, StringComparison.Ordinal);
    }

    /// <summary>What is given, with 64 MB of spaces between or after it.</summary>
    private Core.Facts Read(byte[] before, byte[] after)
    {
        using (var file = File.Create(_path))
        {
            file.Write(before);
            var spaces = Encoding.ASCII.GetBytes(new string(' ', 1 << 20));
            for (var i = 0; i < 64; i++) file.Write(spaces);
            file.Write(after);
        }
        using var large = File.OpenRead(_path);
        return ScenarioReader.Read(large);
    }

    public void Dispose() => File.Delete(_path);
}
