using System.Text.Json;

namespace EvenSplit.StandIns;

/// <summary>All that a stand-in knows, kept in one file that is written after every change.</summary>
public abstract class KeptFile<T>
{
    private static readonly JsonSerializerOptions Json = new() { WriteIndented = true };

    private readonly Lock _lock = new();
    private readonly string _file;
    private readonly T _kept;

    protected KeptFile(string file, T fresh)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(file)!);
        _file = file;
        _kept = File.Exists(file) ? JsonSerializer.Deserialize<T>(File.ReadAllText(file), Json)! : fresh;
    }

    public TResult Read<TResult>(Func<T, TResult> read)
    {
        lock (_lock) return read(_kept);
    }

    /// <summary>Changes what is kept and writes it, both or neither seen by anybody else.</summary>
    public TResult Change<TResult>(Func<T, TResult> change)
    {
        lock (_lock)
        {
            var result = change(_kept);
            File.WriteAllText(_file + ".new", JsonSerializer.Serialize(_kept, Json));
            File.Move(_file + ".new", _file, overwrite: true);
            return result;
        }
    }
}
