using EvenSplit.Books;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace EvenSplit.Web.Serving;

/// <summary>Days, months and points in time of forms and addresses are read as people write them. What is none is told at its field, and nothing is done with the form.</summary>
/// <param name="read">Null where it is none.</param>
/// <param name="howTo">What to write, for whoever wrote something else.</param>
internal sealed class DayBinder(Func<string, object?> read, string what, string howTo) : IModelBinder
{
    /// <summary>Stands among the items of a request with a day that is none.</summary>
    public const string Unread = "EvenSplit.DayUnread";

    public static WrittenDay Reader(BookCache cache, BookClock clock) => WrittenDay.In(cache.Find()?.Time.Zone ?? TimeZoneInfo.Utc, clock.Today);

    public Task BindModelAsync(ModelBindingContext context)
    {
        var given = context.ValueProvider.GetValue(context.ModelName);
        if (given == ValueProviderResult.None) return Task.CompletedTask;
        context.ModelState.SetModelValue(context.ModelName, given);
        var written = given.FirstValue ?? "";
        if (written.Trim().Length == 0)
        {
            if (context.ModelMetadata.IsNullableValueType) context.Result = ModelBindingResult.Success(null);
        }
        else if (read(written) is { } found)
        {
            context.Result = ModelBindingResult.Success(found);
        }
        else
        {
            context.HttpContext.Items[Unread] = true;
            context.ModelState.TryAddModelError(context.ModelName, $"{written} is no {what}. {howTo}");
        }
        return Task.CompletedTask;
    }
}

/// <summary>Takes <see cref="DayBinder"/> for days, months and points in time, whether they have to be there or not.</summary>
internal sealed class DayBinders : IModelBinderProvider
{
    public IModelBinder? GetBinder(ModelBinderProviderContext context)
    {
        var (type, services) = (context.Metadata.UnderlyingOrModelType, context.Services);
        WrittenDay Days() => DayBinder.Reader(services.GetRequiredService<BookCache>(), services.GetRequiredService<BookClock>());
        if (type == typeof(DateOnly)) return new DayBinder(text => Days().Read(text), "day", WrittenDay.HowTo);
        if (type == typeof(DateTime)) return new DayBinder(text => WrittenMoment.Read(text, Days()), "point in time", WrittenMoment.HowTo);
        return type == typeof(Period) ? new DayBinder(text => WrittenMonth.Read(text), "month", WrittenMonth.HowTo) : null;
    }
}
