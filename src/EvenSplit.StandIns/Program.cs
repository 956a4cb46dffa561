using EvenSplit.StandIns;
using EvenSplit.StandIns.Bank;
using EvenSplit.StandIns.Mail;
using EvenSplit.StandIns.Partners;
using EvenSplit.StandIns.Processor;
using EvenSplit.StandIns.Shop;
using Microsoft.AspNetCore.DataProtection;

// A small shop, a payment processor, a bank, a wallet, a mail server and partners that behave like real ones as far as the open doors go: signed events out, payment orders in,
// answers, statements, settlements and partners' reports out, nothing else.
var builder = WebApplication.CreateBuilder(args);
var settings = ShopSettings.Of(builder.Configuration);
builder.Logging.SetMinimumLevel(LogLevel.Warning).AddFilter("Microsoft.AspNetCore.DataProtection", LogLevel.Error);
builder.Services.AddDataProtection().PersistKeysToFileSystem(new DirectoryInfo(Path.Combine(settings.Folder, "keys")));
builder.Services.AddSingleton(settings);
builder.Services.AddSingleton(ShopCatalogue.Read(settings));
builder.Services.AddSingleton<ShopState>();
builder.Services.AddSingleton<Till>();
builder.Services.AddSingleton<Settlements>();
builder.Services.AddSingleton<MonthlyReports>();
builder.Services.AddHttpClient<EventSender>();
builder.Services.AddHostedService<EventDispatch>();
builder.Services.AddSingleton(BankSettings.Of(builder.Configuration, settings.Today));
builder.Services.AddSingleton<BankState>();
builder.Services.AddSingleton<BankCounter>();
builder.Services.AddHostedService<BankHours>();
if (builder.Configuration["mail"] is { } mail) builder.Services.AddHostedService(_ => new CaughtMail(Path.GetFullPath(mail), builder.Configuration.GetValue("mail-port", 2525)));
builder.Services.AddRazorPages();
if (builder.Configuration["parent"] is { } parent) builder.Services.AddHostedService(services => new EndsWithParent(int.Parse(parent, System.Globalization.CultureInfo.InvariantCulture), services.GetRequiredService<IHostApplicationLifetime>()));
var app = builder.Build();
app.UseStaticFiles();
app.MapRazorPages();
app.Run();
