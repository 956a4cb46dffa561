using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Events;

/// <summary>That an order was paid. A fee that is not known yet is null.</summary>
/// <param name="ProcessingFee">Minor units of the order's currency.</param>
public sealed record PaymentReport(DateTimeOffset PaidAt, ProcessorId? Processor, long? ProcessingFee)
{
    /// <param name="currency">The order's.</param>
    public static (PaymentReport? Payment, IReadOnlyList<RowFault> Faults) Read(CsvRow row, BookTime time, Currency currency)
    {
        var cells = new CellReader(row, time);
        var payment = new PaymentReport(
            cells.Instant("paid_at"), cells.Optional("processor") is { } processor ? new ProcessorId(processor) : null, cells.OptionalAmount("processing_fee", currency));
        return cells.Faults.Count == 0 ? (payment, []) : (null, cells.Faults);
    }

    /// <summary>The order as it is once paid. The first payment counts; what comes again says the same.</summary>
    public Order Of(Order order) => order with { PaidAt = order.PaidAt ?? PaidAt, ProcessingFee = ProcessingFee ?? order.ProcessingFee, Processor = Processor ?? order.Processor };
}
