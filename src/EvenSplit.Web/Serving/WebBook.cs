using EvenSplit.Books;
using EvenSplit.Books.Backups;
using EvenSplit.Books.Bulk;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Demo;
using EvenSplit.Web.Doors;
using Microsoft.AspNetCore.Authentication.Cookies;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.ViewFeatures;
using Microsoft.Extensions.DependencyInjection.Extensions;
using Serilog;

namespace EvenSplit.Web.Serving;

/// <summary>Puts the application together: one book, its pages, everything refused that is not allowed.</summary>
internal static class WebBook
{
    public static WebApplication Build(string[] args)
    {
        // Compiled on the other processor meanwhile.
        _ = Task.Run(FirstQuery.Compile);
        var builder = WebApplication.CreateBuilder(args);
        var place = new BookPlace(Path.GetFullPath(builder.Configuration["data"] ?? throw new InvalidOperationException("Say which book: --data DIR")));
        builder.Host.UseSerilog((_, log) => log.MinimumLevel.Information()
            .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
            // That the address is taken is told in a sentence instead; whatever else fails at a start ends it with its reason.
            .MinimumLevel.Override("Microsoft.Extensions.Hosting.Internal.Host", Serilog.Events.LogEventLevel.Fatal)
            // The keys' folder is closed to everybody else instead.
            .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", Serilog.Events.LogEventLevel.Error)
            .WriteTo.Console(formatProvider: System.Globalization.CultureInfo.InvariantCulture));
        builder.Services.AddBook(place);
        // Whatever runs is stopped by then: what was not finished is found waiting at the next start.
        builder.Services.Configure<HostOptions>(host => host.ShutdownTimeout = TimeSpan.FromSeconds(8));
        builder.Services.AddSingleton(new Nights(PlanOf(builder.Configuration)));
        builder.Services.AddSingleton<FirstAnswer>();
        builder.Services.AddHostedService<BackgroundWork>();
        builder.Services.AddSingleton<Demonstration>();
        if (builder.Configuration["smtp"] is { Length: > 0 } smtp)
        {
            var server = MailServer.Read(Path.GetFullPath(smtp));
            builder.Services.AddSingleton(server);
            builder.Services.AddSingleton(new MailRoute(server));
            builder.Services.AddHostedService<MailSending>();
        }
        builder.Services.AddScoped<Documents.Advices>();
        builder.Services.AddSingleton<SourceSecrets>();
        builder.Services.AddSingleton<SignInThrottle>();
        builder.Services.AddSingleton<ApplyThrottle>();
        builder.Services.AddSingleton<OwnerCode>();
        builder.Services.AddSingleton<BookHold>();
        builder.Services.AddScoped<SignInCookie>();
        builder.Services.AddScoped(typeof(PasskeyAsking<>));
        builder.Services.AddSingleton<EventDoor>();
        builder.Services.AddHostedService(services => services.GetRequiredService<EventDoor>());
        Surroundings.Add(builder);
        AddSignIn(builder.Services, Surroundings.IsBehindTls(builder.Configuration));
        AddPages(builder.Services, Surroundings.IsBehindTls(builder.Configuration));
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = 1024 * 1024;
        });
        return builder.Build();
    }

    /// <summary>Prepares the application where its book can be worked on.</summary>
    /// <returns>What keeps it from that, in words; null where nothing does.</returns>
    public static string? PrepareSafely(WebApplication app)
    {
        var (place, withNewKeys) = (app.Services.GetRequiredService<BookPlace>(), app.Configuration.GetValue("new-keys", false));
        try
        {
            if (BookTrouble.OfPlace(place, withNewKeys) is { } wrong) return wrong;
            if (!app.Services.GetRequiredService<BookHold>().Take()) return BookTrouble.OfAnother(place);
            Prepare(app);
            app.Services.SweepUploads();
            app.Services.GetRequiredService<Demonstration>().Sweep();
            if (BookTrouble.OfKeysAndClock(app.Services, withNewKeys) is { } amiss) return amiss;
            // Read for the first visitor while the server starts.
            _ = Task.Run(app.Services.GetRequiredService<BookCache>().Find);
            return null;
        }
        catch (Exception failure) when (failure is RefusedException || BookTrouble.Of(failure) is not null)
        {
            return BookTrouble.Of(failure) ?? failure.Message;
        }
    }

    public static void Prepare(WebApplication app)
    {
        // The pages are put together while the book is prepared: neither needs the other.
        var prepared = Task.Run(() => PrepareBook(app.Services));
        Serve(app);
        prepared.GetAwaiter().GetResult();
    }

    private static void PrepareBook(IServiceProvider services)
    {
        if (!services.PrepareBook()) return;
        using var scope = services.CreateScope();
        scope.ServiceProvider.GetRequiredService<BookCheck>().Ask("a new version of the application");
    }

    private static void Serve(WebApplication app)
    {
        var firstAnswer = app.Services.GetRequiredService<FirstAnswer>();
        app.Use(async (context, next) =>
        {
            await next(context);
            firstAnswer.IsGiven();
        });
        Surroundings.Use(app);
        app.UseExceptionHandler("/error");
        app.UseStatusCodePagesWithReExecute("/error", "?code={0}");
        app.UseMiddleware<ResponseHeaders>();
        app.UseStaticFiles(new StaticFileOptions
        {
            OnPrepareResponse = file => file.Context.Response.Headers.CacheControl = "public, max-age=3600",
        });
        app.UseRouting();
        app.UseMiddleware<OpenBookFirst>();
        app.Use((context, next) =>
        {
            if (context.Connection.RemoteIpAddress is { } address) context.RequestServices.GetRequiredService<RequestOrigin>().Text = address.ToString();
            return next(context);
        });
        app.UseAuthentication();
        app.UseMiddleware<SecondFactorFirst>();
        app.UseAuthorization();
        SalesHook.Map(app);
        GoLinks.Map(app);
        app.MapRazorPages();
    }

    private static BackupPlan? PlanOf(IConfiguration configuration)
    {
        if (configuration["backups"] is not { Length: > 0 } folder) return null;
        if (configuration["passphrase-file"] is not { Length: > 0 } passphrase) throw new InvalidOperationException("Backups are encrypted: give --passphrase-file FILE beside --backups DIR.");
        return new BackupPlan(Path.GetFullPath(folder), Path.GetFullPath(passphrase), Math.Max(1, configuration.GetValue("keep", 14)));
    }

    /// <summary>Tells on the console how a book that nobody has opened yet is opened.</summary>
    public static void TellOwner(WebApplication app) => app.Lifetime.ApplicationStarted.Register(() =>
    {
        if (app.Services.GetRequiredService<BookCache>().Find() is not null) return;
        Console.WriteLine($"This book has no owner yet. Open it at {app.Urls.FirstOrDefault()}/setup?code={app.Services.GetRequiredService<OwnerCode>().Text}");
    });

    private static void AddSignIn(IServiceCollection services, bool isBehindTls)
    {
        services.AddIdentity<BookUser, IdentityRole>(BookUsers.Configure)
            .AddEntityFrameworkStores<BookDbContext>()
            .AddUserStore<BookUserStore>()
            .AddPasswordValidator<PasswordsOthersHave>()
            .AddDefaultTokenProviders()
            .AddClaimsPrincipalFactory<DisplayNameClaims>();
        BookUsers.AddPayeeLogins(services).AddSignInManager().AddDefaultTokenProviders();
        // A passkey says that its owner unlocked it: so it is a second factor, and both at once.
        services.Configure<IdentityPasskeyOptions>(passkeys => (passkeys.UserVerificationRequirement, passkeys.ResidentKeyRequirement) = ("required", "preferred"));
        services.Configure<CookieAuthenticationOptions>(IdentityConstants.TwoFactorUserIdScheme, cookie =>
        {
            // What a passkey is asked with.
            Surroundings.Name(cookie.Cookie, "evensplit-asked", isBehindTls);
        });
        services.ConfigureApplicationCookie(cookie =>
        {
            cookie.LoginPath = "/sign-in";
            cookie.AccessDeniedPath = "/refused";
            Surroundings.Name(cookie.Cookie, "evensplit", isBehindTls);
            // How long nobody has to do anything.
            cookie.ExpireTimeSpan = TimeSpan.FromHours(2);
            cookie.SlidingExpiration = true;
            cookie.Events.OnValidatePrincipal = SignInCookie.ValidateAsync;
        });
        services.AddAuthorizationBuilder()
            .SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build())
            .AddPolicy(Policies.Change, policy => policy.RequireRole(Roles.Lead))
            .AddPolicy(Policies.Approve, policy => policy.RequireRole(Roles.Lead, Roles.Approver));
        PayeeCookie.Add(services, isBehindTls);
    }

    private static void AddPages(IServiceCollection services, bool isBehindTls)
    {
        services.AddRouting(routing => routing.ConstraintMap.Add("period", typeof(PeriodConstraint)));
        services.AddRazorPages(pages =>
        {
            pages.Conventions.ConfigureFilter(new AutoValidateAntiforgeryTokenAttribute());
            pages.Conventions.ConfigureFilter(new TypeFilterAttribute(typeof(WritesByLead)));
            pages.Conventions.ConfigureFilter(new RefusedFilter());
            pages.Conventions.ConfigureFilter(new FormLengths());
            pages.Conventions.ConfigureFilter(new TypeFilterAttribute(typeof(AskAgainFilter)));
            pages.Conventions.ConfigureFilter(new TypeFilterAttribute(typeof(OnceOnly)));
            pages.Conventions.ConfigureFilter(new TypeFilterAttribute(typeof(ChangesOfOthers)));
            pages.Conventions.ConfigureFilter(new TypeFilterAttribute(typeof(ShownFirstFilter)));
            pages.Conventions.ConfigureFilter(new TypeFilterAttribute(typeof(DownloadsOnRecord)));
            // A form that adds a thing also changes one.
            pages.Conventions.AddPageRoute("/Terms/Edit", "{period:period}/terms/{id}/next");
            pages.Conventions.AddPageRoute("/People/Edit", "{period:period}/people/{id}/edit");
            pages.Conventions.AddPageApplicationModelConvention("/Sales/Import", model =>
                model.Filters.Add(new RequestSizeLimitAttribute(ImportFiles.MaxBytes + 1024 * 1024)));
            pages.Conventions.AddPageApplicationModelConvention("/Pay/Results", model => model.Filters.Add(new RequestSizeLimitAttribute(PaymentResults.MostBytes + 64 * 1024)));
            pages.Conventions.AddPageApplicationModelConvention("/Pay/Run", model => model.Filters.Add(new RequestSizeLimitAttribute(HandPayments.MostEvidenceBytes + 64 * 1024)));
            pages.Conventions.AddPageApplicationModelConvention("/Terms/Bulk", model => model.Filters.Add(new RequestSizeLimitAttribute(BulkChanges.MaxBytes + 64 * 1024)));
        });
        services.Configure<MvcOptions>(mvc =>
        {
            mvc.ModelMetadataDetailsProviders.Add(new KeepEmptyText());
            mvc.ModelBinderProviders.Insert(0, new DayBinders());
            // What a field needs is for its use case to say, in words that help.
            mvc.SuppressImplicitRequiredAttributeForNonNullableReferenceTypes = true;
        });
        services.Configure<FormOptions>(form => form.MultipartBodyLengthLimit = ImportFiles.MaxBytes + 1024 * 1024);
        services.Configure<CookieTempDataProviderOptions>(told => Surroundings.Name(told.Cookie, "evensplit-told", isBehindTls));
        services.AddSingleton<CookieTempDataProvider>();
        services.Replace(ServiceDescriptor.Singleton<ITempDataProvider, ToldOnNextPage>());
        services.AddAntiforgery(antiforgery => Surroundings.Name(antiforgery.Cookie, "evensplit-form", isBehindTls));
    }
}
