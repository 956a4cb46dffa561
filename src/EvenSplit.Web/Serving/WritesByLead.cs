using System.Reflection;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;

namespace EvenSplit.Web.Serving;

/// <summary>Says who else than the lead may send what this handler takes.</summary>
[AttributeUsage(AttributeTargets.Method)]
internal sealed class WriteByAttribute(string policy) : Attribute
{
    public string Policy { get; } = policy;
}

/// <summary>Whatever changes anything is the lead's, unless its handler says otherwise; a new page is closed before anybody thinks of it.</summary>
internal sealed class WritesByLead(IAuthorizationService authorization) : IAsyncPageFilter
{
    public Task OnPageHandlerSelectionAsync(PageHandlerSelectedContext context) => Task.CompletedTask;

    public async Task OnPageHandlerExecutionAsync(PageHandlerExecutingContext context, PageHandlerExecutionDelegate next)
    {
        var method = context.HttpContext.Request.Method;
        if (!HttpMethods.IsGet(method) && !HttpMethods.IsHead(method))
        {
            var policy = context.HandlerMethod?.MethodInfo.GetCustomAttribute<WriteByAttribute>()?.Policy ?? Policies.Change;
            if (policy != Policies.Anyone && !(await authorization.AuthorizeAsync(context.HttpContext.User, policy)).Succeeded)
            {
                context.Result = new ForbidResult();
                return;
            }
        }
        await next();
    }
}
