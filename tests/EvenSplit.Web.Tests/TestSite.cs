using System.Net;
using System.Text.RegularExpressions;
using EvenSplit.Books;
using EvenSplit.Books.Model;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Hosting;
using Microsoft.AspNetCore.Mvc.Testing;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Web.Tests;

/// <summary>The application over an empty book in a folder of its own, opened by its first visitor.</summary>
public sealed partial class TestSite : WebApplicationFactory<Program>
{
    public const string Password = "a long test password";

    private readonly string _folder = Path.Combine(Path.GetTempPath(), "evensplit-web-" + Guid.NewGuid().ToString("N"));

    /// <summary>Nothing of a site that is made and gone within seconds is to be watched: the machine has only so many watchers.</summary>
    static TestSite()
    {
        Environment.SetEnvironmentVariable("DOTNET_hostBuilder__reloadConfigOnChange", "false");
        Environment.SetEnvironmentVariable("DOTNET_USE_POLLING_FILE_WATCHER", "true");
    }

    protected override void ConfigureWebHost(IWebHostBuilder builder) => builder.UseSetting("data", _folder).UseEnvironment("Production");

    public HttpClient Visitor() => CreateClient(new WebApplicationFactoryClientOptions { AllowAutoRedirect = false });

    /// <summary>Opens the book and adds an approver and a bookkeeper.</summary>
    public async Task OpenAsync()
    {
        var owner = Visitor();
        var opened = await PostAsync(owner, "/setup", new()
        {
            ["Code"] = Services.GetRequiredService<OwnerCode>().Text,
            ["BookName"] = "Test book",
            ["Currency"] = "EUR",
            ["TimeZone"] = "Europe/Dublin",
            ["DisplayName"] = "Lena",
            ["UserName"] = "lead",
            ["Password"] = Password,
        });
        Assert.Equal(HttpStatusCode.Redirect, opened.StatusCode);
        using var scope = Services.CreateScope();
        await BookUsers.AddAsync(scope.ServiceProvider, "approver", "Aron", Roles.Approver, Password);
        await BookUsers.AddAsync(scope.ServiceProvider, "bookkeeper", "Bea", Roles.Bookkeeper, Password);
    }

    public async Task<HttpClient> SignedInAsync(string userName)
    {
        var client = Visitor();
        var answer = await PostAsync(client, "/sign-in", new() { ["UserName"] = userName, ["Password"] = Password });
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        return client;
    }

    /// <summary>Posts a form as a browser does: with the token of the page it stands on.</summary>
    public static async Task<HttpResponseMessage> PostAsync(HttpClient client, string path, Dictionary<string, string> fields, string? formOn = null)
    {
        var page = await client.GetStringAsync(formOn ?? path);
        fields["__RequestVerificationToken"] = Token().Match(page).Groups[1].Value;
        return await client.PostAsync(path, new FormUrlEncodedContent(fields));
    }

    /// <summary>Does something in the book behind the pages, in a scope of its own.</summary>
    public TResult Do<T, TResult>(Func<T, TResult> work) where T : notnull
    {
        using var scope = Services.CreateScope();
        return work(scope.ServiceProvider.GetRequiredService<T>());
    }

    protected override void Dispose(bool disposing)
    {
        base.Dispose(disposing);
        Microsoft.Data.Sqlite.SqliteConnection.ClearAllPools();
        for (var tries = 0; disposing && Directory.Exists(_folder); tries++)
        {
            try
            {
                Directory.Delete(_folder, recursive: true);
            }
            catch (IOException) when (tries < 100)
            {
                // The application's worker is still letting go of its files.
                Thread.Sleep(50);
            }
        }
    }

    [GeneratedRegex("name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"")]
    private static partial Regex Token();
}
