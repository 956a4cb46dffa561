using EvenSplit.StandIns;
using EvenSplit.StandIns.Processor;
using EvenSplit.StandIns.Shop;
using Microsoft.AspNetCore.DataProtection;

// A small shop and a payment processor that behave like real ones as far as the open doors go: signed events out, a settlement file out, nothing else.
var builder = WebApplication.CreateBuilder(args);
var settings = ShopSettings.Of(builder.Configuration);
builder.Logging.SetMinimumLevel(LogLevel.Warning).AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error);
builder.Services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(settings.Folder, "keys")));
builder.Services.AddSingleton(settings);
builder.Services.AddSingleton(ShopCatalogue.Read(settings));
builder.Services.AddSingleton<ShopState>();
builder.Services.AddSingleton<Till>();
builder.Services.AddSingleton<Settlements>();
builder.Services.AddHttpClient<EventSender>();
builder.Services.AddHostedService<EventDispatch>();
builder.Services.AddRazorPages();
if (builder.Configuration["parent"] is { } parent) builder.Services.AddHostedService(services => new EndsWithParent(int.Parse(parent, System.Globalization.CultureInfo.InvariantCulture), services.GetRequiredService<IHostApplicationLifetime>()));
var app = builder.Build();
app.UseStaticFiles();
app.MapRazorPages();
app.Run();
