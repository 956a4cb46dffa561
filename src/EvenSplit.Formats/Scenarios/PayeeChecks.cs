using EvenSplit.Core;

namespace EvenSplit.Formats.Scenarios;

/// <summary>Faults of payees: their codes, the agreements they are on, their personal terms.</summary>
internal static class PayeeChecks
{
    public static void Check(IReadOnlyList<PayeeDocument> payees, DeclaredIds ids, FaultList faults)
    {
        var seen = new HashSet<string>();
        var codes = new Dictionary<string, List<(PayeeCode Code, string Payee)>>();
        for (var i = 0; i < payees.Count; i++)
        {
            var (place, payee) = ($"$.payees[{i}]", payees[i]);
            if (!seen.Add(payee.Id)) faults.TwiceAt(place + ".id", "payee", payee.Id);
            faults.NotEmptyAt(place + ".id", payee.Id);
            Values(payee, place, ids, faults);
            Codes(payee, place, codes, faults);
            Advances(payee.Advances ?? [], place, faults);
            Memberships(payee.Agreements, place, ids, faults);
            PersonalTerms(payee.PersonalTerms ?? [], place, ids, faults);
        }
    }

    private static void Values(PayeeDocument payee, string place, DeclaredIds ids, FaultList faults)
    {
        faults.WordAt<PayeeRole>(place + ".role", payee.Role);
        faults.CurrencyAt(place + ".payoutCurrency", payee.PayoutCurrency);
        if (payee.RecruitedBy is { } recruiter && !ids.Payees.Contains(recruiter)) faults.UnknownAt(place + ".recruitedBy", "payee", recruiter);
        else if (payee.RecruitedBy == payee.Id) faults.Add(place + ".recruitedBy", "nobody is recruited by themself.");
        faults.CountAt(place + ".holdDays", payee.HoldDays);
        faults.MoneyAt(place + ".minimum", payee.Minimum);
        faults.ShareAt(place + ".withholdingPercent", payee.WithholdingPercent);
        faults.MoneyAt(place + ".transferFee", payee.TransferFee);
        faults.CountAt(place + ".freeTransfers", payee.FreeTransfers);
        faults.ShareAt(place + ".recoupPercent", payee.RecoupPercent);
    }

    private static void Codes(PayeeDocument payee, string place, Dictionary<string, List<(PayeeCode Code, string Payee)>> codes, FaultList faults)
    {
        for (var c = 0; c < payee.Codes?.Count; c++)
        {
            var at = $"{place}.codes[{c}]";
            var code = new PayeeCode(payee.Codes[c].Code, payee.Codes[c].From, payee.Codes[c].To);
            faults.NotEmptyAt(at, code.Text, "a code");
            if (code.To <= code.From) faults.Add(at, $"coupon code '{code.Text}' ends before it begins.");
            var normal = CouponCode.Normal(code.Text);
            if (!codes.TryGetValue(normal, out var owners)) codes.Add(normal, owners = []);
            if (owners.Find(o => o.Payee != payee.Id && o.Code.Overlaps(code)) is { Payee: { } owner }) faults.Add(at, $"coupon code '{code.Text}' belongs to payee '{owner}' already.");
            owners.Add((code, payee.Id));
        }
    }

    private static void Advances(IReadOnlyList<AdvanceDocument> advances, string place, FaultList faults)
    {
        var seen = new HashSet<string>();
        for (var a = 0; a < advances.Count; a++)
        {
            if (!seen.Add(advances[a].Id)) faults.TwiceAt($"{place}.advances[{a}].id", "advance", advances[a].Id);
            faults.NotEmptyAt($"{place}.advances[{a}].id", advances[a].Id);
            faults.MoneyAt($"{place}.advances[{a}].amount", advances[a].Amount);
        }
    }

    private static void Memberships(IReadOnlyList<MembershipDocument> memberships, string place, DeclaredIds ids, FaultList faults)
    {
        for (var m = 0; m < memberships.Count; m++)
        {
            var later = memberships[m];
            var at = $"{place}.agreements[{m}]";
            if (!ids.Agreements.TryGetValue(later.Id, out var agreement))
            {
                faults.UnknownAt(at + ".id", "agreement", later.Id);
                continue;
            }
            for (var p = 0; p < later.Products?.Count; p++)
            {
                var product = later.Products[p];
                if (!ids.Products.Contains(product)) faults.UnknownAt($"{at}.products[{p}]", "product", product);
                else if (later.Products.Take(p).Contains(product)) faults.TwiceAt($"{at}.products[{p}]", "product", product);
            }
            for (var e = 0; e < m; e++)
            {
                var earlier = memberships[e];
                if (!Overlap(earlier, later)) continue;
                if (earlier.Id == later.Id) faults.Add(at, $"agreement '{later.Id}' is there twice at once; see agreements[{e}].");
                else if (agreement.Basis == "referral" && ids.Agreements.TryGetValue(earlier.Id, out var other) && other.Basis == "referral")
                {
                    faults.Add(at, $"referral agreements '{earlier.Id}' and '{later.Id}' overlap; at most one may be in force at a time.");
                }
            }
        }
    }

    private static bool Overlap(MembershipDocument a, MembershipDocument b) =>
        a.From < (b.To ?? DateOnly.MaxValue) && b.From < (a.To ?? DateOnly.MaxValue) && !(a.To <= a.From) && !(b.To <= b.From);

    private static void PersonalTerms(IReadOnlyList<PersonalTermDocument> terms, string place, DeclaredIds ids, FaultList faults)
    {
        for (var t = 0; t < terms.Count; t++)
        {
            var at = $"{place}.personalTerms[{t}]";
            if (!ids.Agreements.ContainsKey(terms[t].Agreement)) faults.UnknownAt(at + ".agreement", "agreement", terms[t].Agreement);
            AgreementChecks.Term(terms[t].Scope, terms[t].Cases, at, ids, faults);
        }
    }
}
