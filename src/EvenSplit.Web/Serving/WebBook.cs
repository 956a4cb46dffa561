using EvenSplit.Books;
using EvenSplit.Books.Bulk;
using EvenSplit.Books.Checking;
using EvenSplit.Books.Importing;
using EvenSplit.Books.Model;
using EvenSplit.Books.PayRuns;
using EvenSplit.Web.Doors;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.HttpOverrides;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Mvc;
using Serilog;

namespace EvenSplit.Web.Serving;

/// <summary>Puts the application together: one book, its pages, everything refused that is not allowed.</summary>
internal static class WebBook
{
    public static WebApplication Build(string[] args)
    {
        var builder = WebApplication.CreateBuilder(args);
        var place = new BookPlace(Path.GetFullPath(builder.Configuration["data"] ?? throw new InvalidOperationException("Say which book: --data DIR")));
        Directory.CreateDirectory(place.Keys);
        if (!OperatingSystem.IsWindows()) File.SetUnixFileMode(place.Keys, UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute);
        builder.Host.UseSerilog((_, log) => log.MinimumLevel.Information()
            .MinimumLevel.Override("Microsoft", Serilog.Events.LogEventLevel.Warning)
            // The keys' folder is closed to everybody else instead.
            .MinimumLevel.Override("Microsoft.AspNetCore.DataProtection", Serilog.Events.LogEventLevel.Error)
            .WriteTo.Console(formatProvider: System.Globalization.CultureInfo.InvariantCulture));
        builder.Services.AddBook(place);
        // Whatever runs is stopped by then: what was not finished is found waiting at the next start.
        builder.Services.Configure<HostOptions>(host => host.ShutdownTimeout = TimeSpan.FromSeconds(8));
        builder.Services.AddHostedService<BackgroundWork>();
        builder.Services.AddScoped<Documents.Advices>();
        builder.Services.AddSingleton<SourceSecrets>();
        builder.Services.AddSingleton<SignInThrottle>();
        builder.Services.AddScoped<SignInCookie>();
        builder.Services.AddSingleton<EventDoor>();
        builder.Services.AddHostedService(services => services.GetRequiredService<EventDoor>());
        AddSignIn(builder.Services);
        AddPages(builder.Services);
        builder.WebHost.ConfigureKestrel(kestrel =>
        {
            kestrel.AddServerHeader = false;
            kestrel.Limits.MaxRequestBodySize = 1024 * 1024;
        });
        return builder.Build();
    }

    public static void Prepare(WebApplication app)
    {
        if (app.Services.PrepareBook())
        {
            using var scope = app.Services.CreateScope();
            scope.ServiceProvider.GetRequiredService<BookCheck>().Ask("a new version of the application");
        }
        // A proxy on the same machine says who asked and whether over TLS; nobody else is believed.
        app.UseForwardedHeaders(new ForwardedHeadersOptions { ForwardedHeaders = ForwardedHeaders.XForwardedFor | ForwardedHeaders.XForwardedProto });
        app.UseHsts();
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
        app.UseAuthorization();
        SalesHook.Map(app);
        GoLinks.Map(app);
        app.MapRazorPages();
    }

    private static void AddSignIn(IServiceCollection services)
    {
        services.AddIdentity<BookUser, IdentityRole>(BookUsers.Configure)
            .AddEntityFrameworkStores<BookDbContext>()
            .AddPasswordValidator<PasswordsOthersHave>()
            .AddDefaultTokenProviders()
            .AddClaimsPrincipalFactory<DisplayNameClaims>();
        services.ConfigureApplicationCookie(cookie =>
        {
            cookie.LoginPath = "/sign-in";
            cookie.AccessDeniedPath = "/refused";
            cookie.Cookie.Name = "evensplit";
            cookie.Cookie.SameSite = SameSiteMode.Strict;
            cookie.Cookie.HttpOnly = true;
            // How long nobody has to do anything.
            cookie.ExpireTimeSpan = TimeSpan.FromHours(2);
            cookie.SlidingExpiration = true;
            cookie.Events.OnValidatePrincipal = SignInCookie.ValidateAsync;
        });
        services.AddAuthorizationBuilder()
            .SetFallbackPolicy(new AuthorizationPolicyBuilder().RequireAuthenticatedUser().Build())
            .AddPolicy(Policies.Change, policy => policy.RequireRole(Roles.Lead))
            .AddPolicy(Policies.Approve, policy => policy.RequireRole(Roles.Lead, Roles.Approver));
    }

    private static void AddPages(IServiceCollection services)
    {
        services.AddRouting(routing => routing.ConstraintMap.Add("period", typeof(PeriodConstraint)));
        services.AddRazorPages(pages =>
        {
            pages.Conventions.ConfigureFilter(new AutoValidateAntiforgeryTokenAttribute());
            pages.Conventions.ConfigureFilter(new TypeFilterAttribute(typeof(WritesByLead)));
            pages.Conventions.ConfigureFilter(new RefusedFilter());
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
            // What a field needs is for its use case to say, in words that help.
            mvc.SuppressImplicitRequiredAttributeForNonNullableReferenceTypes = true;
        });
        services.Configure<FormOptions>(form => form.MultipartBodyLengthLimit = ImportFiles.MaxBytes + 1024 * 1024);
        services.AddAntiforgery(antiforgery =>
        {
            antiforgery.Cookie.Name = "evensplit-form";
            antiforgery.Cookie.SameSite = SameSiteMode.Strict;
        });
    }
}
