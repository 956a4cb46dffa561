using EvenSplit.Core;

namespace EvenSplit.Web.Serving;

/// <summary>An address whose part is a month: 2026-10. Far from the ends of time, so that every page may look a month back and ahead.</summary>
internal sealed class PeriodConstraint : IRouteConstraint
{
    private const int FirstYear = 1900, LastYear = 2200;

    public bool Match(HttpContext? httpContext, IRouter? route, string routeKey, RouteValueDictionary values, RouteDirection routeDirection) =>
        Period.TryParse(values[routeKey]?.ToString(), out var period) && period.FirstDay.Year is >= FirstYear and <= LastYear;
}
