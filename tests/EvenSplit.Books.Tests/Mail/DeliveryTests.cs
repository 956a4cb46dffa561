using System.Net;
using System.Net.Sockets;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.StandIns.Mail;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Tests;

/// <summary>Mails go on to a server over STARTTLS, again where it does not take them, and what comes back is told.</summary>
public sealed class DeliveryTests : IAsyncLifetime
{
    private readonly TestBook _book = new();
    private readonly CaughtMail _catcher;
    private readonly string _folder;

    public DeliveryTests()
    {
        _folder = Path.Combine(_book.Place.Folder, "caught");
        _catcher = new CaughtMail(_folder, FreePort());
    }

    public async ValueTask InitializeAsync()
    {
        await _catcher.StartAsync(CancellationToken.None);
        for (var tries = 0; !File.Exists(Settings); tries++)
        {
            Assert.True(tries < 4_000, "The mail server did not start.");
            await Task.Delay(25);
        }
    }

    public async ValueTask DisposeAsync()
    {
        await _catcher.StopAsync(CancellationToken.None);
        _catcher.Dispose();
        _book.Dispose();
    }

    private string Settings => Path.Combine(_folder, "server.json");

    [Fact]
    public async Task A_mail_arrives_once_from_the_houses_own_address()
    {
        Send("a", "anna@people.example");
        Send("a", "anna@people.example");
        await Deliver();
        await Deliver();
        var mail = await MimeKit.MimeMessage.LoadAsync(Assert.Single(Caught()), TestContext.Current.CancellationToken);
        Assert.Equal(("payments@hedgerow.example", "anna@people.example", "Hello"), (mail.From.Mailboxes.Single().Address, mail.To.Mailboxes.Single().Address, mail.Subject));
        Assert.Equal(DeliveryState.Sent, Of("a").State);
        Assert.Throws<RefusedException>(() => _book.Do<MailDeliveries>(d => d.SendAgain("a", TestBook.Lead)));
    }

    [Fact]
    public async Task What_comes_back_for_good_is_told_and_keeps_no_other()
    {
        Send("a", "nobody@people.example");
        Send("b", "anna@people.example");
        await Deliver();
        Assert.Equal((DeliveryState.Refused, DeliveryState.Sent), (Of("a").State, Of("b").State));
        Assert.Contains("550 There is no such mailbox here.", Of("a").Answer, StringComparison.Ordinal);
        Assert.Equal(1, _book.Get<MailDeliveries, int>(d => d.Failed()));
        Assert.Single(Caught());
    }

    [Fact]
    public async Task What_is_not_taken_now_waits_and_is_taken_later()
    {
        Send("a", "later@people.example");
        await Deliver();
        Assert.Equal((DeliveryState.Waiting, 1), (Of("a").State, Of("a").Tries));
        Assert.True(Of("a").NextAt > DateTimeOffset.UtcNow);
        Assert.False(await Deliver());
        _book.Do<MailDeliveries>(d => d.SendAgain("a", TestBook.Lead));
        await Deliver();
        Assert.Equal(DeliveryState.Sent, Of("a").State);
    }

    [Fact]
    public async Task A_server_that_is_not_there_or_is_another_takes_nothing_away()
    {
        Send("a", "anna@people.example");
        var server = MailServer.Read(Settings);
        await Deliver(server with { Port = FreePort() });
        Assert.Contains("not reached", Of("a").Answer, StringComparison.Ordinal);
        Now("a");
        await Deliver(server with { Certificate = "" });
        Assert.Equal((DeliveryState.Waiting, 0), (Of("a").State, Of("a").Tries));
        Now("a");
        await Deliver(server with { Password = "wrong" });
        Assert.Empty(Caught());
        Now("a");
        await Deliver(server);
        Assert.Single(Caught());
    }

    [Fact]
    public void What_was_not_done_is_not_told()
    {
        _book.Do<BookDbContext>(db =>
        {
            using var transaction = db.Database.BeginTransaction();
            OutboxOn(db).Send("a", "Anna", "anna@people.example", "Hello", "Text");
        });
        Assert.Empty(_book.Get<BookDbContext, MailDeliveryRecord[]>(db => [.. db.MailDeliveries]));
    }

    [Theory]
    [InlineData("{")]
    [InlineData("{}")]
    [InlineData("null")]
    [InlineData("""{"host":"mail.shop.example"}""")]
    [InlineData("""{"host":"mail.shop.example","from":"nobody"}""")]
    public void A_file_that_says_too_little_is_refused(string text)
    {
        var file = Path.Combine(_book.Place.Folder, "server.json");
        File.WriteAllText(file, text);
        Assert.Contains(file, Assert.Throws<RefusedException>(() => MailServer.Read(file)).Message, StringComparison.Ordinal);
    }

    private Outbox OutboxOn(BookDbContext db) => new(db, _book.Place, _book.Get<BookCache, BookCache>(c => c), _book.Get<BookClock, BookClock>(c => c), new MailRoute(MailServer.Read(Settings)));

    private void Send(string id, string address) => _book.Do<BookDbContext>(db => OutboxOn(db).Send(id, "Anna", address, "Hello", "Text"));

    private Task<bool> Deliver(MailServer? server = null) => Task.Run(() => _book.Get<MailDeliveries, bool>(d => d.SendDueAsync(server ?? MailServer.Read(Settings), CancellationToken.None).GetAwaiter().GetResult()));

    private void Now(string id) => _book.Do<BookDbContext>(db => db.MailDeliveries.Where(d => d.Id == id).ExecuteUpdate(set => set.SetProperty(d => d.NextAt, DateTimeOffset.MinValue)));

    private MailDeliveryRecord Of(string id) => _book.Get<BookDbContext, MailDeliveryRecord>(db => db.MailDeliveries.AsNoTracking().Single(d => d.Id == id));

    private string[] Caught() => Directory.GetFiles(_folder, "*.eml");

    private static int FreePort()
    {
        using var socket = new TcpListener(IPAddress.Loopback, 0);
        socket.Start();
        return ((IPEndPoint)socket.LocalEndpoint).Port;
    }
}
