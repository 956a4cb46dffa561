using System.Buffers;
using System.Globalization;
using System.Net;
using System.Security.Cryptography;
using System.Security.Cryptography.X509Certificates;
using System.Text.Json;
using SmtpServer;
using SmtpServer.Authentication;
using SmtpServer.Mail;
using SmtpServer.Protocol;
using SmtpServer.Storage;

namespace EvenSplit.StandIns.Mail;

/// <summary>
/// A mail server that sends nothing on: it keeps what it takes as files. It speaks STARTTLS, asks for a name and a password, refuses addresses that begin with "nobody" for good,
/// and those that begin with "later" the first time.
/// </summary>
internal sealed class CaughtMail(string folder, int port) : BackgroundService
{
    private const string User = "even-split";

    private readonly string _password = Convert.ToHexStringLower(RandomNumberGenerator.GetBytes(16));

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        Directory.CreateDirectory(folder);
        using var certificate = OwnCertificate();
        var options = new SmtpServerOptionsBuilder().ServerName("localhost")
            .Endpoint(endpoint => endpoint.Endpoint(new IPEndPoint(IPAddress.Loopback, port)).Certificate(certificate).AuthenticationRequired().AllowUnsecureAuthentication(false)).Build();
        var services = new SmtpServer.ComponentModel.ServiceProvider();
        services.Add(new Keeper(folder));
        services.Add(new Doorkeeper());
        services.Add((IUserAuthenticator)new DelegatingUserAuthenticator((name, password) => name == User && password == _password));
        WriteFileForSenders();
        await new SmtpServer.SmtpServer(options, services).StartAsync(stoppingToken);
    }

    /// <summary>What a sender has to know, in the form it reads.</summary>
    private void WriteFileForSenders()
    {
        var file = Path.Combine(folder, "server.json");
        File.WriteAllText(file + ".part", JsonSerializer.Serialize(new { host = "127.0.0.1", port, user = User, password = _password, from = "payments@hedgerow.example", certificate = "certificate.pem" }));
        if (!OperatingSystem.IsWindows()) File.SetUnixFileMode(file + ".part", UnixFileMode.UserRead | UnixFileMode.UserWrite);
        File.Move(file + ".part", file, overwrite: true);
    }

    private X509Certificate2 OwnCertificate()
    {
        using var key = RSA.Create(2048);
        var request = new CertificateRequest("CN=localhost", key, HashAlgorithmName.SHA256, RSASignaturePadding.Pkcs1);
        using var made = request.CreateSelfSigned(DateTimeOffset.UtcNow.AddDays(-1), DateTimeOffset.UtcNow.AddYears(1));
        File.WriteAllText(Path.Combine(folder, "certificate.pem"), made.ExportCertificatePem());
        return X509CertificateLoader.LoadPkcs12(made.Export(X509ContentType.Pkcs12), null);
    }

    private sealed class Keeper(string folder) : MessageStore
    {
        private int _number;

        public override async Task<SmtpResponse> SaveAsync(ISessionContext context, IMessageTransaction transaction, ReadOnlySequence<byte> buffer, CancellationToken cancellationToken)
        {
            var name = string.Create(CultureInfo.InvariantCulture, $"{DateTimeOffset.UtcNow:yyyyMMddHHmmss}-{Interlocked.Increment(ref _number):000000}.eml");
            await File.WriteAllBytesAsync(Path.Combine(folder, name + ".part"), buffer.ToArray(), cancellationToken);
            File.Move(Path.Combine(folder, name + ".part"), Path.Combine(folder, name));
            return SmtpResponse.Ok;
        }
    }

    private sealed class Doorkeeper : MailboxFilter
    {
        private readonly HashSet<string> _asked = [];

        public override Task<bool> CanDeliverToAsync(ISessionContext context, IMailbox to, IMailbox from, CancellationToken cancellationToken)
        {
            if (to.User.StartsWith("nobody", StringComparison.OrdinalIgnoreCase)) throw new SmtpResponseException(new SmtpResponse(SmtpReplyCode.MailboxUnavailable, "There is no such mailbox here."));
            lock (_asked)
            {
                if (to.User.StartsWith("later", StringComparison.OrdinalIgnoreCase) && _asked.Add(to.AsAddress())) throw new SmtpResponseException(new SmtpResponse(SmtpReplyCode.InsufficientStorage, "Not now; try again later."));
            }
            return Task.FromResult(true);
        }
    }
}
