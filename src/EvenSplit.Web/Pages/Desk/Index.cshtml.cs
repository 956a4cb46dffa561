using EvenSplit.Books;
using EvenSplit.Books.Desk;
using EvenSplit.Books.Model;
using EvenSplit.Core;
using EvenSplit.Demo;
using EvenSplit.Web.Serving;
using Microsoft.AspNetCore.Mvc;

namespace EvenSplit.Web.Pages;

public sealed class DeskPage(OpenDesk desk, DeskAhead ahead, FirstHour firstHour, Demonstration demonstration, BookCache cache, BookClock clock) : BookPage
{
    public DeskView View { get; private set; } = null!;

    /// <summary>Beyond the month.</summary>
    public AheadView Ahead { get; private set; } = null!;

    public DateOnly Today => clock.Today;

    /// <summary>What the last check of the book found.</summary>
    public string Checked => CheckPage.Told(View.LastCheck, Book);

    public string Local(DateTimeOffset at) => Book.Local(at);

    private const string FirstHourOver = "evensplit-first-hour-over";

    /// <summary>What a new book still needs before its first run; null once there is one, or where they were put away.</summary>
    public IReadOnlyList<FirstStep>? FirstSteps { get; private set; }

    public Demonstration Demonstration => demonstration;

    /// <summary>Whether the desk offers to fill a book that is still new, tells how far that is, or offers to empty it again.</summary>
    public bool TellsOfDemonstration { get; private set; }

    public void OnGet() => Show();

    public override void Show()
    {
        TellsOfDemonstration = User.IsInRole(Roles.Lead) && (demonstration.Making is not null || demonstration.Fault is not null || demonstration.IsIn || demonstration.CanFill);
        View = desk.Find(Period);
        Ahead = ahead.Find(By, User.IsInRole(Roles.Lead) || User.IsInRole(Roles.Approver));
        FirstSteps = User.IsInRole(Roles.Lead) && !Request.Cookies.ContainsKey(FirstHourOver) ? firstHour.Find() : null;
    }

    /// <summary>Which day, month or point in time somebody has written, in words for the field they are in; 422 with what to write where it is none.</summary>
    /// <param name="kind">As the field's class: day, month, moment.</param>
    public IActionResult OnGetDay(string written, string kind = "day")
    {
        var days = DayBinder.Reader(cache, clock);
        var (read, howTo) = kind switch
        {
            "month" => (WrittenMonth.Read(written) is { } month ? WrittenMonth.InWords(month) : null, WrittenMonth.HowTo),
            "moment" => (WrittenMoment.Read(written, days) is { } moment ? WrittenMoment.InWords(moment) : null, WrittenMoment.HowTo),
            _ => (days.Read(written)?.InWords(), WrittenDay.HowTo),
        };
        return new ContentResult { Content = read ?? howTo, ContentType = "text/plain", StatusCode = read is null ? StatusCodes.Status422UnprocessableEntity : StatusCodes.Status200OK };
    }

    public IActionResult OnPostFill()
    {
        demonstration.Fill(By);
        return RedirectToPage(new { handler = "" });
    }

    public IActionResult OnGetMaking() => Partial("_DemonstrationState", this);

    public IActionResult OnPostEmpty()
    {
        demonstration.Empty(By);
        Done = "The book is as it was before the demonstration.";
        // The month of today may be another one in it.
        return Redirect("/");
    }

    /// <summary>Each on their own browser; nothing of the book changes.</summary>
    public IActionResult OnPostFirstHourOver()
    {
        Response.Cookies.Append(FirstHourOver, "1", new CookieOptions { HttpOnly = true, SameSite = SameSiteMode.Lax, MaxAge = TimeSpan.FromDays(400), Secure = Request.IsHttps });
        return RedirectToPage(new { handler = "" });
    }

    public string LinkTo(FirstStep step) => $"/{Period}/" + step.Kind switch
    {
        FirstStepKind.Policies => "books/policies",
        FirstStepKind.Sales => "sales/import",
        FirstStepKind.Unknown => "sales/unknown",
        FirstStepKind.People => "people",
        FirstStepKind.Agreements => "terms",
        FirstStepKind.Fees => "sales/fees",
        FirstStepKind.LookOver => "sales/quarantine",
        FirstStepKind.SecondPerson => "users",
        _ => "pay",
    };

    /// <summary>The orders a ribbon sums: the foot of that list has the same figures.</summary>
    public string Orders => $"/{Period}/sales?kind=paid";

    public string? LinkTo(Step step) => step.Kind switch
    {
        StepKind.Sales => $"/{Period}/sales" + (step.State == StepState.Done ? "" : "/import"),
        StepKind.Quarantine => step.State == StepState.Done ? null : $"/{Period}/sales/quarantine",
        StepKind.Exceptions => step.State == StepState.Done ? null : $"/{Period}/sales/exceptions",
        StepKind.Applications => $"/{Period}/people/applications",
        StepKind.Questions => $"/{Period}/people/questions",
        StepKind.Requests => $"/{Period}/pay",
        StepKind.TaxForms => $"/{Period}/people/tax-forms",
        StepKind.Details => $"/{Period}/pay/details",
        StepKind.WriteOffs => $"/{Period}/pay/owed",
        StepKind.CameBack => $"/{Period}/pay/owed",
        StepKind.Doubts => $"/{Period}/pay/results",
        StepKind.Due => $"/{Period}/pay",
        StepKind.Reports => $"/{Period}/pay/bench",
        StepKind.Bank => $"/{Period}/pay/bench/bank",
        StepKind.CloseMonth => $"/{Period}/books/proof",
        StepKind.Targets => $"/{Period}/terms/targets",
        _ when step.State is StepState.Later or StepState.Blocked => null,
        StepKind.Gather when step.RunId is null => $"/{Period}/pay",
        _ => step.RunId is { } run ? $"/{Period}/pay/{run}" : null,
    };
}
