using EvenSplit.Books;
using EvenSplit.Books.Desk;

namespace EvenSplit.Web.Pages;

public sealed class DeskPage(OpenDesk desk, BookClock clock) : BookPage
{
    public DeskView View { get; private set; } = null!;

    public DateOnly Today => clock.Today;

    /// <summary>What the last check of the book found.</summary>
    public string Checked => CheckPage.Told(View.LastCheck, Book);

    public string Local(DateTimeOffset at) => Book.Local(at);

    public void OnGet() => View = desk.Find(Period);

    /// <summary>The orders a ribbon sums: the foot of that list has the same figures.</summary>
    public string Orders => $"/{Period}/sales?kind=paid";

    public string? LinkTo(Step step) => step.Kind switch
    {
        StepKind.Sales => $"/{Period}/sales" + (step.State == StepState.Done ? "" : "/import"),
        StepKind.Quarantine => step.State == StepState.Done ? null : $"/{Period}/sales/quarantine",
        StepKind.Exceptions => step.State == StepState.Done ? null : $"/{Period}/sales/exceptions",
        StepKind.Details => $"/{Period}/pay/details",
        StepKind.WriteOffs => $"/{Period}/pay/owed",
        StepKind.CameBack => $"/{Period}/pay/owed",
        StepKind.Doubts => $"/{Period}/pay/results",
        StepKind.Due => $"/{Period}/pay",
        StepKind.Targets => $"/{Period}/terms/targets",
        _ when step.State is StepState.Later or StepState.Blocked => null,
        StepKind.Gather when step.RunId is null => $"/{Period}/pay",
        _ => step.RunId is { } run ? $"/{Period}/pay/{run}" : null,
    };
}
