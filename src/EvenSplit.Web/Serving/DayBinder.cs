using EvenSplit.Books;
using EvenSplit.Core;
using Microsoft.AspNetCore.Mvc.ModelBinding;

namespace EvenSplit.Web.Serving;

/// <summary>Days of forms and addresses are read as people write them. What is none is told at its field, and nothing is done with the form.</summary>
internal sealed class DayBinder(BookCache cache, BookClock clock) : IModelBinder
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
        else if (Reader(cache, clock).Read(written) is { } day)
        {
            context.Result = ModelBindingResult.Success(day);
        }
        else
        {
            context.HttpContext.Items[Unread] = true;
            context.ModelState.TryAddModelError(context.ModelName, $"{written} is no day. {WrittenDay.HowTo}");
        }
        return Task.CompletedTask;
    }
}

/// <summary>Takes <see cref="DayBinder"/> for days, whether they have to be there or not.</summary>
internal sealed class DayBinders : IModelBinderProvider
{
    public IModelBinder? GetBinder(ModelBinderProviderContext context) => context.Metadata.UnderlyingOrModelType == typeof(DateOnly)
        ? new DayBinder(context.Services.GetRequiredService<BookCache>(), context.Services.GetRequiredService<BookClock>())
        : null;
}
