using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Books.Joining;

/// <summary>Mails to those who come in. Each is for one purpose, and put into the outbox once.</summary>
public sealed class JoiningMails(MailTemplates templates, Outbox outbox) : IUseCase
{
    internal void Confirm(ApplicationRecord application, string agreement, string link) => Send($"confirm-{application.TokenHash[..16]}", MailKind.Confirm, application.Name, application.Email, agreement, ("link", link));

    internal void AskBack(ApplicationRecord application, string agreement, string link) =>
        Send($"asked-back-{application.TokenHash[..16]}", MailKind.AskedBack, application.Name, application.Email, agreement, ("question", application.Reason), ("link", link));

    internal void Decline(ApplicationRecord application, string agreement) => Send($"declined-{application.Id}-{application.TokenHash[..8]}", MailKind.Declined, application.Name, application.Email, agreement, ("reason", application.Reason));

    internal void Invite(InvitationRecord invitation, string agreement, string link) =>
        Send($"invitation-{invitation.TokenHash[..16]}", MailKind.Invitation, invitation.Name.Length > 0 ? invitation.Name : invitation.Email, invitation.Email, agreement, ("link", link));

    internal bool NewVersion(int version, string payee, string name, string email, string agreement, DateOnly from, string link) =>
        Send($"version-{version}-{payee}", MailKind.NewVersion, name, email, agreement, ("from", from.InWords()), ("link", link));

    /// <param name="code">Null where they have none.</param>
    internal void Welcome(ApplicationRecord application, JoiningRecord joining, string agreement, string? code, string link, Currency currency) => Send(
        $"welcome-{application.Id}", MailKind.Welcome, application.Name, application.Email, agreement, ("code", code ?? "none"), ("link", link), ("hold", Hold(joining)), ("gift", Gift(joining, currency)));

    internal static string Hold(JoiningRecord joining) => joining.HoldDays is { } days ? $"At first what you earn is held for {MoneyWords.Count(days, "day")} after payment." : "";

    internal static string Gift(JoiningRecord joining, Currency currency)
    {
        var amount = new Money(joining.GiftAmount, currency).InWords();
        return joining.Gift switch
        {
            GiftKind.Advance => $"You get {amount} ahead: {joining.GiftNote}.",
            GiftKind.Bonus => $"You get {amount}: {joining.GiftNote}.",
            GiftKind.Goods => $"You get: {joining.GiftNote}.",
            _ => "",
        };
    }

    private bool Send(string id, MailKind kind, string name, string email, string agreement, params (string Field, string Value)[] values)
    {
        var (subject, text) = templates.Filled(kind, [.. values, ("name", name), ("agreement", agreement)]);
        return outbox.Send(id, name, email, subject, text);
    }
}
