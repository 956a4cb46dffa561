using EvenSplit.Books.Importing;
using EvenSplit.Formats.Events;

namespace EvenSplit.Web.Doors;

/// <summary>Takes signed events at /hooks/sales: 401 for what is not signed, altered or old, 422 for what cannot be read, 200 once it is on disk. Whatever else goes wrong is ours: 503, so that the sender sends again.</summary>
internal static class SalesHook
{
    private const int MostIdLength = 200;
    private const string RetryAfterSeconds = "10";

    public static void Map(WebApplication app) => app.MapPost("/hooks/sales", ReceiveAsync).AllowAnonymous().DisableAntiforgery();

    private static async Task<IResult> ReceiveAsync(HttpContext context, SourceSecrets secrets, EventDoor door, ILogger<EventDoor> log)
    {
        try
        {
            return await TakeAsync(context, secrets, door);
        }
        catch (Exception failure) when (!context.RequestAborted.IsCancellationRequested && failure is not BadHttpRequestException)
        {
            log.LogError(failure, "An event could not be stored");
            context.Response.Headers.RetryAfter = RetryAfterSeconds;
            return Refused(StatusCodes.Status503ServiceUnavailable, "The event was not stored. Send it again.");
        }
    }

    private static async Task<IResult> TakeAsync(HttpContext context, SourceSecrets secrets, EventDoor door)
    {
        var headers = context.Request.Headers;
        var (id, timestamp, signatures) = (headers["webhook-id"].ToString(), headers["webhook-timestamp"].ToString(), headers["webhook-signature"].ToString());
        if (id.Length is 0 or > MostIdLength || signatures.Length == 0) return Refused(StatusCodes.Status401Unauthorized, "The event is not signed: webhook-id, webhook-timestamp and webhook-signature are needed.");
        if (await BodyAsync(context) is not { } body) return Refused(StatusCodes.Status413PayloadTooLarge, $"An event may have {SalesEventJson.MaxBytes / 1024} KB.");
        var now = TimeProvider.System.GetUtcNow();
        var source = secrets.All.Where(s => WebhookSignature.IsRight(s.Value, id, timestamp, signatures, body, now)).Select(s => s.Key).FirstOrDefault();
        if (source is null) return Refused(StatusCodes.Status401Unauthorized, "The signature does not fit the event, or the event is older than five minutes.");
        try
        {
            await door.StoreAsync(new ReceivedEvent(id, source, SalesEventJson.Read(body), body, now), context.RequestAborted);
            return Results.Ok(new { stored = id });
        }
        catch (EventFaultException fault)
        {
            return Refused(StatusCodes.Status422UnprocessableEntity, fault.Message);
        }
    }

    /// <summary>The body, or null where it is larger than an event may be.</summary>
    private static async Task<byte[]?> BodyAsync(HttpContext context)
    {
        if (context.Request.ContentLength > SalesEventJson.MaxBytes) return null;
        using var body = new MemoryStream();
        var room = new byte[16 * 1024];
        int read;
        while ((read = await context.Request.Body.ReadAsync(room, context.RequestAborted)) > 0)
        {
            if (body.Length + read > SalesEventJson.MaxBytes) return null;
            body.Write(room, 0, read);
        }
        return body.ToArray();
    }

    private static IResult Refused(int status, string detail) => Results.Problem(detail, statusCode: status);
}

/// <summary>The secrets of the sources that may send; read anew when the lead has changed one, and every few seconds, since the command line may have.</summary>
internal sealed class SourceSecrets(IServiceScopeFactory scopes)
{
    private static readonly TimeSpan Lasts = TimeSpan.FromSeconds(10);

    private volatile Known? _known;

    private sealed record Known(IReadOnlyDictionary<string, string> Secrets, DateTimeOffset ReadAt);

    public IReadOnlyDictionary<string, string> All => _known is { } known && known.ReadAt + Lasts > TimeProvider.System.GetUtcNow() ? known.Secrets : Read();

    public void Forget() => _known = null;

    private IReadOnlyDictionary<string, string> Read()
    {
        using var scope = scopes.CreateScope();
        var secrets = scope.ServiceProvider.GetRequiredService<EventSources>().Secrets();
        _known = new Known(secrets, TimeProvider.System.GetUtcNow());
        return secrets;
    }
}
