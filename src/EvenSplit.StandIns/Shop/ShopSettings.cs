namespace EvenSplit.StandIns.Shop;

/// <summary>Where the shop keeps what it knows, where its events go, and the file with the secret that signs them.</summary>
/// <param name="Today">The date the shop's own clock begins with.</param>
/// <param name="Processor">Where the processor leaves its reports to be fetched.</param>
/// <param name="Partners">Where partners leave theirs.</param>
public sealed record ShopSettings(string Folder, Uri Hook, string SecretFile, DateOnly Today, string Processor, string Partners)
{
    public string StateFile => Path.Combine(Folder, "shop.json");

    /// <exception cref="InvalidOperationException">A setting is missing.</exception>
    public static ShopSettings Of(IConfiguration configuration)
    {
        string Needed(string name) => configuration[name] ?? throw new InvalidOperationException($"The shop needs --{name}.");
        return new ShopSettings(Path.GetFullPath(Needed("data")), new Uri(Needed("hook")), Path.GetFullPath(Needed("secret-file")), DateOnly.ParseExact(Needed("today"), "yyyy-MM-dd"), Path.GetFullPath(Needed("processor")), Path.GetFullPath(Needed("partners")));
    }
}
