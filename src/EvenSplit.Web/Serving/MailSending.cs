using EvenSplit.Books;
using EvenSplit.Books.Mail;
using EvenSplit.Demo;

namespace EvenSplit.Web.Serving;

/// <summary>Hands mails to the mail server as they come, and again those it did not take.</summary>
internal sealed class MailSending(IServiceScopeFactory scopes, MailServer server, BookCache cache, Demonstration demonstration, ILogger<MailSending> log) : BackgroundService
{
    private static readonly TimeSpan Rest = TimeSpan.FromSeconds(2);

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        while (!stoppingToken.IsCancellationRequested)
        {
            try
            {
                // Those of the demonstration are to people who are made up.
                if (cache.Find() is not null && !demonstration.IsIn)
                {
                    await using var scope = scopes.CreateAsyncScope();
                    if (await scope.ServiceProvider.GetRequiredService<MailDeliveries>().SendDueAsync(server, stoppingToken)) continue;
                }
            }
            catch (Exception fault) when (fault is not OperationCanceledException)
            {
                // The mails stay where they are.
                log.LogError(fault, "Mails were not sent");
            }
            await Task.Delay(Rest, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }
}
