using EvenSplit.Books.Model;
using EvenSplit.Books.Own;
using EvenSplit.Books.PayRuns;
using EvenSplit.Books.People;

namespace EvenSplit.Books.Tests;

/// <summary>Who is paid on request asks, and the run that pays them answers.</summary>
public sealed class PaymentRequestTests : IDisposable
{
    private static readonly DateOnly Today = new(2026, 11, 3);

    private readonly TestBook _book = new();

    public PaymentRequestTests()
    {
        _book.MoveTo(Today);
        Change(d => d with { Schedule = "request" });
    }

    public void Dispose() => _book.Dispose();

    [Fact]
    public void By_a_schedule_nobody_asks()
    {
        Change(d => d with { Schedule = "monthly" });
        Assert.Null(Of());
        Assert.Throws<RefusedException>(Ask);
    }

    [Fact]
    public void What_has_not_cleared_or_is_too_little_is_not_asked_for()
    {
        Assert.Contains("Nothing has cleared", Assert.Throws<RefusedException>(Ask).Message, StringComparison.Ordinal);
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Change(d => d with { Minimum = "10.01" });
        Assert.Equal("Payments begin at €10.01.", Of()!.Refusal);
        Change(d => d with { Minimum = "10", TransferFee = "0.50" });
        Assert.Equal("Payments begin at €10.00.", Of()!.Refusal);
        Change(d => d with { Minimum = "9.50", TransferFee = "0.50" });
        Assert.Equal((null, 50L), (Of()!.Refusal, Of()!.Fee.Minor));
        Ask();
    }

    [Fact]
    public void The_run_that_pays_answers_and_unlocked_it_is_open_again()
    {
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Ask();
        Assert.Contains("already", Assert.Throws<RefusedException>(Ask).Message, StringComparison.Ordinal);
        Assert.Equal("Anna", Assert.Single(Waiting()).Name);
        var run = _book.Get<PayRunSteps, int>(s => s.Gather(Today, ["anna"], TestBook.Lead));
        Assert.Single(Waiting());
        _book.Do<PayRunSteps>(s => s.Lock(run, TestBook.Lead));
        Assert.Empty(Waiting());
        _book.Do<PayRunSteps>(s => s.Unlock(run, "a mistake", TestBook.Lead));
        Assert.Single(Waiting());
        _book.Recalculate();
        _book.Do<PayRunSteps>(s => s.Lock(run, TestBook.Lead));
        Assert.Equal(run, _book.Get<BookDbContext, int?>(db => db.PaymentRequests.Single().RunId));
    }

    [Fact]
    public void One_who_asked_again_meanwhile_asks_once()
    {
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Ask();
        var run = _book.Get<PayRunSteps, int>(s => s.Gather(Today, ["anna"], TestBook.Lead));
        _book.Do<PayRunSteps>(s => s.Lock(run, TestBook.Lead));
        _book.ImportOrders(TestBook.Row("B", code: "ANNA"));
        Ask();
        _book.Do<PayRunSteps>(s => s.Unlock(run, "a mistake", TestBook.Lead));
        Assert.Single(Waiting());
    }

    [Fact]
    public void A_run_that_pays_them_nothing_answers_nothing()
    {
        _book.ImportOrders(TestBook.Row("A", code: "ANNA"));
        Ask();
        Change(d => d with { OnHold = true });
        var run = _book.Get<PayRunSteps, int>(s => s.Gather(Today, ["anna"], TestBook.Lead));
        _book.Do<PayRunSteps>(s => s.Lock(run, TestBook.Lead));
        Assert.Single(Waiting());
        _book.Do<PaymentRequests>(r => r.Withdraw("anna"));
        Assert.Empty(Waiting());
        Assert.Throws<RefusedException>(() => _book.Do<PaymentRequests>(r => r.Withdraw("anna")));
    }

    private void Ask() => _book.Do<PaymentRequests>(r => r.Ask("anna"));

    private Requestable? Of() => _book.Get<PaymentRequests, Requestable?>(r => r.Of("anna"));

    private IReadOnlyList<WaitingRequest> Waiting() => _book.Get<PaymentRequests, IReadOnlyList<WaitingRequest>>(r => r.Waiting());

    private void Change(Func<PayeeDraft, PayeeDraft> change) => _book.Do<PayeeDesk>(d => Assert.Empty(d.Save("anna", change(d.Draft("anna")!), TestBook.Lead).Faults));
}
