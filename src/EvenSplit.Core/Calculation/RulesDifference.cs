namespace EvenSplit.Core;

/// <summary>
/// What a change of the rules can reach. It is derived from the rules before and after, not told by whoever changes them, and follows what the
/// outcome of an order depends on:
/// <list type="bullet">
/// <item>who brought it: its assignment, codes and clicks, its origin's attribution; of each candidate the referral agreement in force, the dates
/// they are active, their codes and buyer's keys (contract, section 3);</item>
/// <item>what each line gives: versions, personal terms, memberships and their products, the recruiter and whether they are active, the product's
/// vendor, collections, return days and cost (sections 4 to 6 and 8);</item>
/// <item>fees and rates on the day of payment (sections 2 and 9).</item>
/// </list>
/// Further orders follow from these while they are worked out: renewals of an order that is attributed otherwise, and orders on whose step a
/// payee no longer stands. Where it is cheaper to look at more orders than to tell exactly, more are looked at.
/// </summary>
public static class RulesDifference
{
    public static IReadOnlyList<TouchedOrders> Between(Rulebook before, Rulebook after)
    {
        if (!Same(before.Policy, after.Policy)) return [new TouchedOrders { Everything = true }];
        return TouchedOrders.Together(
        [
            .. Rates(before, after), .. Schedules(before, after), .. Products(before, after),
            .. Agreements(before, after), .. Payees(before, after),
        ]);
    }

    private static bool Same(BookPolicy a, BookPolicy b) =>
        (a.Currency, a.Time.Zone.Id, a.ClickModel, a.AllowSelfReferral) == (b.Currency, b.Time.Zone.Id, b.ClickModel, b.AllowSelfReferral);

    /// <summary>Everything a payee's progress is counted from: what a track that nobody asked for before is filled with.</summary>
    public static TouchedOrders OfTrack(Rulebook rules, TrackKey track) => track.Agreement is { } agreement
        ? new TouchedOrders { Products = SharedProducts(rules, agreement, [track.Payee]) }
        : new TouchedOrders { Payees = [track.Payee.Value], Earners = [track.Payee.Value] };

    /// <summary>What an agreement gives has changed between two dates of placing, for all who are, were or will be on it.</summary>
    public static TouchedOrders OfAgreement(Rulebook before, Rulebook after, AgreementId id, DateSpan placed) =>
        UnderAgreement(before, after, id, [.. Members(before, id), .. Members(after, id)], placed);

    private static IEnumerable<TouchedOrders> Rates(Rulebook before, Rulebook after)
    {
        var changed = before.Rates.All.ToHashSet();
        changed.SymmetricExceptWith(after.Rates.All);
        // A rate serves its own day and the seven after it.
        return changed.Count == 0 ? [] :
        [
            new TouchedOrders { Everything = true, ConvertedFrom = changed.Min(r => r.Date), ConvertedBefore = ExchangeRates.FirstDayNotServed(changed.Max(r => r.Date)) },
        ];
    }

    private static IEnumerable<TouchedOrders> Schedules(Rulebook before, Rulebook after)
    {
        foreach (var processor in after.Processors)
        {
            var was = before.FindProcessor(processor.Id);
            if (DatesApart.Of(Froms(was?.Later, processor.Later), d => was is null || was.On(d) with { Later = [] } != processor.On(d) with { Later = [] }) is not { } span) continue;
            yield return new TouchedOrders { Processors = [processor.Id.Value], ConvertedFrom = span.From, ConvertedBefore = span.Before };
        }
        foreach (var channel in after.Channels)
        {
            var was = before.FindChannel(channel.Id);
            if (DatesApart.Of(Froms(was?.Later, channel.Later), d => was is null || was.On(d) with { Later = [] } != channel.On(d) with { Later = [] }) is not { } span) continue;
            yield return new TouchedOrders { Channels = [channel.Id.Value], ConvertedFrom = span.From, ConvertedBefore = span.Before };
        }

        static IEnumerable<DateOnly?> Froms<T>(IReadOnlyList<(DateOnly From, T)>? was, IReadOnlyList<(DateOnly From, T)> now) =>
            (was ?? []).Concat(now).Select(l => (DateOnly?)l.From);
    }

    private static IEnumerable<TouchedOrders> Products(Rulebook before, Rulebook after)
    {
        foreach (var product in after.Products)
        {
            if (before.FindProduct(product.Id) is not { } was) continue;
            if (!ReferenceEquals(was, product) && !SameBut(was, product)) yield return new TouchedOrders { Products = [product.Id.Value] };
            else if (DatesApart.Of(was.LaterCosts.Concat(product.LaterCosts).Select(c => (DateOnly?)c.From), d => was.UnitCostOn(d) != product.UnitCostOn(d)) is { } span)
            {
                yield return new TouchedOrders { Products = [product.Id.Value], PlacedFrom = span.From, PlacedBefore = span.Before };
            }
        }

        // Costs apart, which are held against each other day by day.
        static bool SameBut(Product a, Product b) => a.Vendor == b.Vendor && a.ReturnDays == b.ReturnDays
            && a.Variants.SequenceEqual(b.Variants) && a.Collections.SequenceEqual(b.Collections);
    }

    private static IEnumerable<TouchedOrders> Agreements(Rulebook before, Rulebook after)
    {
        foreach (var agreement in after.Agreements)
        {
            var was = before.FindAgreement(agreement.Id);
            var boundaries = (was?.Versions ?? []).Concat(agreement.Versions).Select(v => (DateOnly?)v.From);
            if (DatesApart.Of(boundaries, d => !SameRules.Are(was?.VersionOn(d), agreement.VersionOn(d))) is { } span) yield return OfAgreement(before, after, agreement.Id, span);
        }
    }

    private static IEnumerable<TouchedOrders> Payees(Rulebook before, Rulebook after)
    {
        foreach (var payee in after.Payees)
        {
            // One who was not there before is held against somebody who is on nothing.
            var was = before.FindPayee(payee.Id) ?? payee with { Codes = [], Memberships = [], PersonalTerms = [], CustomerKeys = [], RecruitedBy = null };
            foreach (var touched in Of(before, after, was, payee)) yield return touched;
        }
    }

    private static IEnumerable<TouchedOrders> Of(Rulebook before, Rulebook after, Payee was, Payee now)
    {
        var id = now.Id.Value;
        string[] codes = [.. was.Codes.Concat(now.Codes).Select(c => c.Text).Distinct()];
        foreach (var code in codes)
        {
            IEnumerable<DateOnly?> days = was.Codes.Concat(now.Codes).Where(c => c.Text == code).SelectMany(c => new[] { c.From, c.To });
            // On days on which it is not in force, a code that somebody has says something else than one of nobody.
            if (was.Codes.Any(c => c.Text == code) != now.Codes.Any(c => c.Text == code)) yield return new TouchedOrders { Codes = [code] };
            else if (DatesApart.Of(days, d => Has(was, code, d) != Has(now, code, d)) is { } span) yield return new TouchedOrders { Codes = [code], PlacedFrom = span.From, PlacedBefore = span.Before };
        }
        if (!was.CustomerKeys.ToHashSet().SetEquals(now.CustomerKeys)) yield return new TouchedOrders { Payees = [id], Codes = codes };
        // Their part in figures by role, and the day on which what they earn clears.
        if (was.Role != now.Role || was.HoldDays != now.HoldDays) yield return new TouchedOrders { Earners = [id] };
        if (was.RecruitedBy != now.RecruitedBy) yield return new TouchedOrders { Payees = [id] };
        if (DatesApart.Of([was.ActiveFrom, was.ActiveTo, now.ActiveFrom, now.ActiveTo], d => was.IsActiveOn(d) != now.IsActiveOn(d)) is { } active)
        {
            // Orders they may have brought, and those of whom they recruited.
            var recruits = before.Payees.Concat(after.Payees).Where(p => p.RecruitedBy == now.Id).Select(p => p.Id.Value);
            yield return new TouchedOrders { Payees = [id, .. recruits.Distinct()], Codes = codes, PlacedFrom = active.From, PlacedBefore = active.Before };
        }
        foreach (var agreement in was.Memberships.Concat(now.Memberships).Select(m => m.Agreement).Concat(was.PersonalTerms.Concat(now.PersonalTerms).Select(t => t.Agreement)).Distinct())
        {
            IEnumerable<DateOnly?> boundaries = was.Memberships.Concat(now.Memberships).Where(m => m.Agreement == agreement).SelectMany(m => new[] { m.From, m.To })
                .Concat(was.PersonalTerms.Concat(now.PersonalTerms).Where(t => t.Agreement == agreement).SelectMany(t => new[] { t.From, t.To }));
            if (DatesApart.Of(boundaries, d => !SameRules.Are(was, now, agreement, d)) is { } span) yield return UnderAgreement(before, after, agreement, [was.Id], span);
        }
    }

    private static bool Has(Payee payee, string code, DateOnly date) => payee.Codes.Any(c => c.Text == code && c.InForceOn(date));

    /// <summary>Under referral the orders they may have brought, else those with a product in which they may share.</summary>
    private static TouchedOrders UnderAgreement(Rulebook before, Rulebook after, AgreementId id, IReadOnlyCollection<PayeeId> payees, DateSpan placed)
    {
        var touched = new TouchedOrders { PlacedFrom = placed.From, PlacedBefore = placed.Before };
        if (after.Agreement(id).Basis != Basis.Referral) return touched with { Products = [.. SharedProducts(before, id, payees).Union(SharedProducts(after, id, payees))] };
        return touched with
        {
            Payees = [.. payees.Select(p => p.Value).Distinct()],
            Codes = [.. payees.SelectMany(p => new[] { before.FindPayee(p), after.FindPayee(p) }).SelectMany(p => p?.Codes ?? []).Select(c => c.Text).Distinct()],
        };
    }

    private static IEnumerable<PayeeId> Members(Rulebook rules, AgreementId id) => rules.Payees.Where(p => p.Memberships.Any(m => m.Agreement == id)).Select(p => p.Id);

    private static List<string> SharedProducts(Rulebook rules, AgreementId id, IReadOnlyCollection<PayeeId> payees)
    {
        var among = payees.ToHashSet();
        return [.. rules.Products.Where(p => rules.Sharers(p.Id).Any(s => s.Agreement.Id == id && among.Contains(s.Payee.Id))).Select(p => p.Id.Value)];
    }
}
