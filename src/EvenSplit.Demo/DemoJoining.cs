using EvenSplit.Books.Joining;
using EvenSplit.Books.Mail;
using EvenSplit.Books.Model;
using Microsoft.Extensions.DependencyInjection;

namespace EvenSplit.Demo;

/// <summary>Who may join the agreements of the demonstration, and who has asked to. Addresses are shown to be theirs by the mailed links, as anybody's are.</summary>
internal sealed class DemoJoining(IServiceProvider services, string lead)
{
    private const string Friends = "friends-of-the-hedge", School = "school-network", Hosts = "club-hosts", Site = "http://localhost";

    private static readonly (string Agreement, ApplicationDraft Draft)[] Asking =
    [
        (Friends, Person("Wren Tallowby", "wren@tallowby.example", "IE", "https://tallowby.example/walks", "A walk a week, with what grows beside it.", "under 1 000", "yes")),
        (Friends, Person("Mossy Lane Podcast", "hello@mossylane.example", "GB", "https://mossylane.example", "Two friends, one hedge.", "1 000 to 10 000", "yes")),
        (School, Person("Quiet Field Podcast", "quiet-field-podcast@people.example", "GB", "https://quietfield.example", "Our listeners teach.")),
        (Friends, Person("Bargain Hawk", "deals@bargainhawk.example", "US", "https://bargainhawk.example", "Coupons for everything.", "over 10 000", "no")),
        (Hosts, Person("Ottoline Reedmace", "ottoline@reedmace.example", "NL", "", "I host evenings for beginners in Utrecht.")),
    ];

    public void Make()
    {
        Say(Friends, new JoiningDraft
        {
            Way = JoiningWay.OnApproval,
            Intro = "Tell your people about what grows beside the road, and earn a part of what they buy.\n\n- a code and a link of your own\n- paid monthly\n- we look at each request within a week",
            Questions =
            [
                new QuestionDraft { Number = 1, Words = "What do you make?", Kind = QuestionKind.Long, IsNeeded = true },
                new QuestionDraft { Number = 2, Words = "How many people see it in a month?", Kind = QuestionKind.OneOf, IsNeeded = true, Choices = "under 1 000, 1 000 to 10 000, over 10 000" },
                new QuestionDraft { Number = 3, Words = "Have you bought one of our guides?", Kind = QuestionKind.YesNo },
            ],
            HoldDays = 60,
            RecordDays = 90,
            RecordOrders = 20,
            RecordRefunds = "10",
        });
        Say(School, new JoiningDraft { Way = JoiningWay.OnApproval, Intro = "For teachers and those they listen to." });
        Say(Hosts, new JoiningDraft { Way = JoiningWay.AtOnce, Intro = "Host an evening of the club and earn a part of its season." });
        foreach (var (agreement, draft) in Asking)
        {
            Do<Applying>(a => Sound(a.Ask(agreement, draft, "192.0.2.7", Site)));
            Do<Applying>(a => a.Confirm(LinkTo(draft.Email), Site));
        }
        Do<ApplicationDecisions>(d => d.Decline([IdOf("deals@bargainhawk.example")], "We work with people who know the hedge themselves.", lead));
        Do<Invitations>(i => i.Invite(Friends, "Linnet Farrowdale <linnet@farrowdale.example>\nthe-long-acre@letters.example", lead, Site));
    }

    private static ApplicationDraft Person(string name, string email, string country, string sites, params string[] answers) => new() { Name = name, Email = email, Country = country, Sites = sites, Answers = [.. answers], Accepts = true };

    private void Say(string agreement, JoiningDraft draft) => Do<JoiningDesk>(j => Sound(j.Save(agreement, draft, lead)));

    /// <summary>As the person reads it in their mail.</summary>
    private string LinkTo(string email)
    {
        using var scope = services.CreateScope();
        var outbox = scope.ServiceProvider.GetRequiredService<Outbox>();
        var mail = outbox.Find(outbox.List().First(m => m.To.Contains(email, StringComparison.Ordinal) && m.Id.StartsWith("confirm-", StringComparison.Ordinal)).Id)!;
        var link = mail.Text.Split('\n').First(l => l.Contains("token=", StringComparison.Ordinal)).Trim();
        return link[(link.IndexOf("token=", StringComparison.Ordinal) + "token=".Length)..];
    }

    private int IdOf(string email)
    {
        using var scope = services.CreateScope();
        return scope.ServiceProvider.GetRequiredService<BookDbContext>().Applications.Single(a => a.Email == email).Id;
    }

    private static void Sound(IReadOnlyList<EvenSplit.Books.Forms.FieldFault> faults)
    {
        if (faults.Count > 0) throw new InvalidOperationException(string.Join(" ", faults.Select(f => $"{f.Field}: {f.Message}")));
    }

    private void Do<T>(Action<T> use) where T : notnull
    {
        using var scope = services.CreateScope();
        use(scope.ServiceProvider.GetRequiredService<T>());
    }
}
