using System.Net;
using EvenSplit.Books;
using Microsoft.AspNetCore.Http;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Microsoft.AspNetCore.Mvc.RazorPages.Infrastructure;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Web.Tests;

/// <summary>What is asked for and is not there, or not there any more: every page and every form says so, and none fails.</summary>
public sealed class WhatIsGoneTests : IAsyncLifetime
{
    private readonly TestSite _site = new();
    private HttpClient _lead = null!;

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
    }

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    [Fact]
    public async Task No_form_fails_on_a_thing_that_has_gone()
    {
        var loader = _site.Services.GetRequiredService<PageLoader>();
        var failed = new List<string>();
        var posted = 0;
        foreach (var endpoint in _site.Services.GetServices<EndpointDataSource>().SelectMany(s => s.Endpoints).OfType<RouteEndpoint>())
        {
            if (endpoint.Metadata.GetMetadata<PageActionDescriptor>() is not { } described || described.ViewEnginePath is "/Account/SignOut" or "/Error") continue;
            var page = await loader.LoadAsync(described, EndpointMetadataCollection.Empty);
            // One that fills the new book with another names nothing that could have gone.
            foreach (var handler in page.HandlerMethods.Where(m => m.HttpMethod == "Post" && m.Name != "Fill"))
            {
                foreach (var id in new[] { "987654321", "nobody" })
                {
                    var address = Address(endpoint, id) + (handler.Name is { } name ? $"?handler={name}" : "");
                    var fields = handler.Parameters.Where(p => p.ParameterType != typeof(CancellationToken)).ToDictionary(p => p.BindingInfo?.BinderModelName ?? p.Name!, _ => id);
                    var answer = await TestSite.PostAsync(_lead, address, fields, "/2026-10/sales/import");
                    posted++;
                    if ((int)answer.StatusCode >= 500) failed.Add($"{address}: {(int)answer.StatusCode}");
                }
            }
        }
        Assert.True(posted > 100, $"Only {posted} forms were tried.");
        Assert.True(failed.Count == 0, string.Join('\n', failed.Distinct()));
        // Whatever was refused on the way, nobody has kept the turn to write.
        Eventually.Is(() => !_site.Services.GetRequiredService<WriterQueue>().IsTaken, "the turn is free again");
    }

    [Theory]
    [InlineData("0001-01")]
    [InlineData("9999-12")]
    [InlineData("1899-12")]
    [InlineData("1900-01")]
    [InlineData("2200-12")]
    [InlineData("2026-13")]
    public async Task Months_at_the_ends_of_time_are_no_failure(string month)
    {
        var failed = new List<string>();
        foreach (var endpoint in _site.Services.GetServices<EndpointDataSource>().SelectMany(s => s.Endpoints).OfType<RouteEndpoint>().Where(e => e.RoutePattern.RawText?.StartsWith("{period", StringComparison.Ordinal) == true))
        {
            var answer = await _lead.GetAsync(Address(endpoint, "nobody").Replace("2026-10", month, StringComparison.Ordinal));
            if ((int)answer.StatusCode >= 500) failed.Add($"{endpoint.RoutePattern.RawText}: {(int)answer.StatusCode}");
        }
        Assert.True(failed.Count == 0, string.Join('\n', failed.Distinct()));
    }

    [Fact]
    public async Task A_link_with_letters_of_any_alphabet_leads_to_the_shop()
    {
        using (var scope = _site.Services.CreateScope())
        {
            scope.ServiceProvider.GetRequiredService<EvenSplit.Books.Importing.EventSources>().SetShopAddress("https://shop.example", "test");
            Assert.Empty(scope.ServiceProvider.GetRequiredService<EvenSplit.Books.People.PayeeDesk>().Save(null, new() { Name = "Anna", PayoutCurrency = "EUR", ActiveFrom = new DateOnly(2026, 1, 1) }, "test").Faults);
        }
        var answer = await _site.Visitor().GetAsync("/go/anna?to=/caf%C3%A9/%E6%9C%AC");
        Assert.Equal(HttpStatusCode.Redirect, answer.StatusCode);
        Assert.StartsWith("https://shop.example/caf%C3%A9/%E6%9C%AC", answer.Headers.Location!.OriginalString, StringComparison.Ordinal);
    }

    private static string Address(RouteEndpoint endpoint, string id) =>
        "/" + string.Join('/', endpoint.RoutePattern.PathSegments.Select(s => string.Concat(s.Parts.Select(p => p switch
        {
            Microsoft.AspNetCore.Routing.Patterns.RoutePatternParameterPart { Name: "period" } => "2026-10",
            Microsoft.AspNetCore.Routing.Patterns.RoutePatternParameterPart => id,
            Microsoft.AspNetCore.Routing.Patterns.RoutePatternLiteralPart literal => literal.Content,
            _ => "",
        }))));
}
