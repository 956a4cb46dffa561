using EvenSplit.Core;

namespace EvenSplit.Web.Serving;

/// <summary>An address whose part is a month: 2026-10.</summary>
internal sealed class PeriodConstraint : IRouteConstraint
{
    public bool Match(HttpContext? httpContext, IRouter? route, string routeKey, RouteValueDictionary values, RouteDirection routeDirection) =>
        Period.TryParse(values[routeKey]?.ToString(), out _);
}
