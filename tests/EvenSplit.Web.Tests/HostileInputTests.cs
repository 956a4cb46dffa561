using System.Net;
using System.Net.Http.Headers;
using System.Text;
using EvenSplit.Books.Importing;
using EvenSplit.Formats.Events;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Web.Tests;

/// <summary>What no honest sender sends, at every door: it is refused with its fault, and the application goes on serving.</summary>
public sealed class HostileInputTests : IAsyncLifetime
{
    private readonly TestSite _site = new();
    private HttpClient _lead = null!;
    private string _secret = "";

    public async ValueTask InitializeAsync()
    {
        await _site.OpenAsync();
        _lead = await _site.SignedInAsync("lead");
        using var scope = _site.Services.CreateScope();
        _secret = scope.ServiceProvider.GetRequiredService<EventSources>().Add("The shop", null, "test").Secret;
    }

    public async ValueTask DisposeAsync() => await _site.DisposeAsync();

    private static readonly (string What, byte[] Body, HttpStatusCode Status)[] Bodies =
    [
        ("nested deep", Ascii(new string('[', 100_000)), HttpStatusCode.UnprocessableEntity),
        ("nested deep inside", Ascii("{\"type\":\"order\",\"data\":" + string.Concat(Enumerable.Repeat("{\"a\":", 40_000)) + "1" + new string('}', 40_001)), HttpStatusCode.UnprocessableEntity),
        ("many lines", Ascii("{\"type\":\"order\",\"data\":{\"order_id\":\"A\",\"lines\":[" + string.Join(',', Enumerable.Repeat("{}", 60_000)) + "]}}"), HttpStatusCode.UnprocessableEntity),
        ("a number beyond all", Ascii("{\"type\":\"order\",\"data\":{\"order_id\":\"A\",\"lines\":[{\"quantity\":1e400}]}}"), HttpStatusCode.UnprocessableEntity),
        ("not UTF-8", [.. "{\"type\":\"order\",\"data\":{\"order_id\":\""u8, 0xC3, 0x28, 0xFF, .. "\",\"lines\":[{}]}}"u8], HttpStatusCode.UnprocessableEntity),
        ("half a surrogate", Ascii("{\"type\":\"order\",\"data\":{\"order_id\":\"\\ud800\",\"lines\":[{}]}}"), HttpStatusCode.UnprocessableEntity),
        ("a zero in the midst", Ascii("{\"type\":\"order\0\"}"), HttpStatusCode.UnprocessableEntity),
        ("a field twice", Ascii("{\"type\":\"order\",\"type\":\"refund\",\"data\":{}}"), HttpStatusCode.UnprocessableEntity),
        ("nothing", [], HttpStatusCode.UnprocessableEntity),
        ("larger than an event may be", Ascii("{\"type\":\"" + new string('x', SalesEventJson.MaxBytes) + "\"}"), HttpStatusCode.RequestEntityTooLarge),
    ];

    [Fact]
    public async Task A_signed_event_that_is_none_is_refused_with_its_fault()
    {
        foreach (var (what, body, status) in Bodies)
        {
            var answer = await SendAsync("E-1", body);
            Assert.True(answer.StatusCode == status, $"{what}: {answer.StatusCode}");
            Assert.Contains("\"detail\"", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
            await StillServesAsync();
        }
    }

    [Fact]
    public async Task Signatures_that_are_none_are_refused_before_the_body_is_looked_at()
    {
        foreach (var (id, timestamp, signature) in new[]
        {
            ("E-1", "now", "v1,AAAA"), ("E-1", "99999999999999999999", "v1,AAAA"), ("E-1", "-1", "v1,"), (new string('i', 5000), "1", "v1,AAAA"),
            ("E-1", Now, "v1,not base 64"), ("E-1", Now, string.Join(' ', Enumerable.Repeat("v1,AAAA", 500))), ("E-1", Now, "v2," + new string('A', 44)),
        })
        {
            using var request = new HttpRequestMessage(HttpMethod.Post, "/hooks/sales") { Content = new ByteArrayContent([1, 2, 3]) };
            request.Headers.TryAddWithoutValidation("webhook-id", id);
            request.Headers.TryAddWithoutValidation("webhook-timestamp", timestamp);
            request.Headers.TryAddWithoutValidation("webhook-signature", signature);
            Assert.Equal(HttpStatusCode.Unauthorized, (await _site.Visitor().SendAsync(request)).StatusCode);
        }
        await StillServesAsync();
    }

    [Fact]
    public async Task A_file_is_kept_under_a_name_of_our_own_whatever_it_is_called()
    {
        foreach (var name in new[] { "../../keys/orders.csv", "..\\..\\windows.csv", "/etc/passwd" })
        {
            Assert.Equal(HttpStatusCode.Redirect, (await UploadAsync("/2026-10/sales/import", name, "order_id\n=cmd|' /C calc'!A0\n"u8.ToArray())).StatusCode);
            var page = await _lead.GetStringAsync("/2026-10/sales/import");
            Assert.Contains(name[(name.LastIndexOfAny(['/', '\\']) + 1)..], page, StringComparison.Ordinal);
            Assert.DoesNotContain("..", page, StringComparison.Ordinal);
        }
        await StillServesAsync();
    }

    [Fact]
    public async Task A_message_of_a_bank_that_is_none_is_refused()
    {
        foreach (var content in new[]
        {
            "<!DOCTYPE a [<!ENTITY b \"bbbb\"><!ENTITY c \"&b;&b;&b;&b;\">]><Document>&c;</Document>",
            "<!DOCTYPE a [<!ENTITY b SYSTEM \"file:///etc/passwd\">]><Document>&b;</Document>",
            "<Document>", "reference,status\n\0\0\0", string.Concat(Enumerable.Repeat("<a>", 50_000)),
        })
        {
            var answer = await UploadAsync("/2026-10/pay/results", "answer.xml", Encoding.UTF8.GetBytes(content));
            Assert.Equal(HttpStatusCode.Conflict, answer.StatusCode);
            Assert.DoesNotContain("root:", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
        await StillServesAsync();
    }

    [Fact]
    public async Task An_address_that_leads_nowhere_is_no_failure_of_the_server()
    {
        foreach (var address in new[]
        {
            "/2026-10/sales?after=%00%ff&channel=%27%20OR%201%3D1--", "/2026-10/sales?after=999999999999999999999999", "/2026-10/find?q=%25%5f%27%22%3Cscript%3E",
            "/2026-10/sales/..%2f..%2fbook.db", "/9999-99", "/go/..%2f..%2f?to=javascript:alert(1)",
        })
        {
            var answer = await _lead.GetAsync(address);
            Assert.True((int)answer.StatusCode < 500, $"{address}: {answer.StatusCode}");
            Assert.DoesNotContain("<script>", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
    }

    private static byte[] Ascii(string text) => Encoding.ASCII.GetBytes(text);

    private static string Now => DateTimeOffset.UtcNow.ToUnixTimeSeconds().ToString(System.Globalization.CultureInfo.InvariantCulture);

    private async Task<HttpResponseMessage> SendAsync(string id, byte[] body)
    {
        var timestamp = DateTimeOffset.UtcNow.ToUnixTimeSeconds();
        using var request = new HttpRequestMessage(HttpMethod.Post, "/hooks/sales") { Content = new ByteArrayContent(body) };
        request.Headers.Add("webhook-id", id);
        request.Headers.Add("webhook-timestamp", timestamp.ToString(System.Globalization.CultureInfo.InvariantCulture));
        request.Headers.Add("webhook-signature", WebhookSignature.Sign(_secret, id, timestamp, body));
        return await _site.Visitor().SendAsync(request);
    }

    private async Task<HttpResponseMessage> UploadAsync(string path, string name, byte[] content)
    {
        var token = System.Text.RegularExpressions.Regex.Match(await _lead.GetStringAsync(path), "name=\"__RequestVerificationToken\" type=\"hidden\" value=\"([^\"]+)\"").Groups[1].Value;
        using var form = new MultipartFormDataContent { { new StringContent(token), "__RequestVerificationToken" } };
        var file = new ByteArrayContent(content);
        file.Headers.ContentDisposition = new ContentDispositionHeaderValue("form-data") { Name = "File", FileName = $"\"{name.Replace("\\", "\\\\", StringComparison.Ordinal)}\"" };
        form.Add(file);
        return await _lead.PostAsync(path, form);
    }

    private async Task StillServesAsync() => Assert.Equal(HttpStatusCode.OK, (await _lead.GetAsync("/2026-10")).StatusCode);
}
