using System.Globalization;
using System.Net;
using System.Text;
using EvenSplit.Formats.Events;

namespace EvenSplit.StandIns.Shop;

/// <summary>Signs an event and sends it to the application's door.</summary>
public sealed class EventSender(HttpClient http, ShopSettings settings)
{
    /// <returns>Null once it is taken; else the answer's status and words.</returns>
    public async Task<(HttpStatusCode Status, string Words)?> SendAsync(OutgoingEvent outgoing, CancellationToken cancellation)
    {
        var secret = (await File.ReadAllTextAsync(settings.SecretFile, cancellation)).Trim();
        var timestamp = TimeProvider.System.GetUtcNow().ToUnixTimeSeconds();
        var body = Encoding.UTF8.GetBytes(outgoing.Body);
        using var request = new HttpRequestMessage(HttpMethod.Post, settings.Hook) { Content = new ByteArrayContent(body) };
        request.Content.Headers.ContentType = new("application/json");
        request.Headers.Add("webhook-id", outgoing.Id);
        request.Headers.Add("webhook-timestamp", timestamp.ToString(CultureInfo.InvariantCulture));
        request.Headers.Add("webhook-signature", WebhookSignature.Sign(secret, outgoing.Id, timestamp, body));
        using var answer = await http.SendAsync(request, cancellation);
        return answer.IsSuccessStatusCode ? null : (answer.StatusCode, await answer.Content.ReadAsStringAsync(cancellation));
    }
}

/// <summary>Sends what goes out, in its order, until it is taken: a door that is shut for a while loses nothing.</summary>
internal sealed class EventDispatch(ShopState state, IServiceProvider services) : BackgroundService
{
    private static readonly TimeSpan Pause = TimeSpan.FromMilliseconds(200);
    private static readonly TimeSpan LongPause = TimeSpan.FromSeconds(5);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            var next = state.Read(k => k.Outgoing.Find(o => o.Refusal is null));
            var pause = next is null ? Pause : await SendAsync(next, stoppingToken);
            if (pause > TimeSpan.Zero) await Task.Delay(pause, stoppingToken);
        }
    }

    private async Task<TimeSpan> SendAsync(OutgoingEvent outgoing, CancellationToken stopping)
    {
        try
        {
            var refused = await services.GetRequiredService<EventSender>().SendAsync(outgoing, stopping);
            state.Change(kept =>
            {
                outgoing.Attempts++;
                if (refused is null) kept.Outgoing.Remove(outgoing);
                // What it says cannot be read will not be read the next time either; all else may pass.
                else if (refused.Value.Status is HttpStatusCode.UnprocessableEntity or HttpStatusCode.RequestEntityTooLarge) outgoing.Refusal = refused.Value.Words;
                return kept.Today;
            });
            return refused is null || outgoing.Refusal is not null ? TimeSpan.Zero : LongPause;
        }
        catch (Exception failure) when (failure is HttpRequestException or IOException or TaskCanceledException && !stopping.IsCancellationRequested)
        {
            return LongPause;
        }
    }
}
