using System.Text.Json;

namespace EvenSplit.Books.Mail;

/// <summary>A server that sends mail on, as the file says that was named at the start.</summary>
/// <param name="User">Empty where it asks for nobody.</param>
/// <param name="From">The address mails come from, and to which answers go.</param>
/// <param name="Certificate">The file of the one certificate it has; empty where a known authority has signed it.</param>
public sealed record MailServer(string Host, int Port, string User, string Password, string From, string Certificate)
{
    private const int UsualPort = 587;

    /// <exception cref="RefusedException">The file is not there, cannot be read, or says too little.</exception>
    public static MailServer Read(string file)
    {
        MailServer? server;
        try
        {
            server = JsonSerializer.Deserialize<MailServer>(File.ReadAllText(file), new JsonSerializerOptions(JsonSerializerDefaults.Web));
        }
        catch (Exception fault) when (fault is IOException or UnauthorizedAccessException or JsonException)
        {
            throw new RefusedException($"The file {file} with the mail server cannot be read: {fault.Message} It is JSON with host, port, user, password, from and, where no known authority signed it, certificate.");
        }
        if (server is not { Host.Length: > 0, From.Length: > 0 } || !Outbox.IsAddress(server.From, out _)) throw new RefusedException($"The file {file} has to name the mail server’s host, and in from the e-mail address that mails come from.");
        return server with { Port = server.Port == 0 ? UsualPort : server.Port, User = server.User ?? "", Password = server.Password ?? "", Certificate = server.Certificate is { Length: > 0 } own ? Path.GetFullPath(own, Path.GetDirectoryName(Path.GetFullPath(file))!) : "" };
    }
}

/// <summary>Where mails go beside the outbox; null for nowhere.</summary>
public sealed record MailRoute(MailServer? Server);
