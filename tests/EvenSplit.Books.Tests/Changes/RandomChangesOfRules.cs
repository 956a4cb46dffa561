using EvenSplit.Books.Catalogue;
using EvenSplit.Books.People;
using EvenSplit.Books.Terms;
using EvenSplit.Core;

namespace EvenSplit.Books.Tests.Changes;

/// <summary>Changes of rules: payees, memberships, agreements, products, schedules, rates and policies.</summary>
internal sealed partial class RandomChanges
{
    private void ChangePayee()
    {
        var payees = Rules.Payees.ToArray();
        var id = OneOf(payees).Id.Value;
        _book.Do<PayeeDesk>(d => d.Save(id, Changed(d.Draft(id)!, payees), Lead));
    }

    private PayeeDraft Changed(PayeeDraft draft, Payee[] payees) => _random.Next(10) switch
    {
        0 => draft with { ActiveFrom = Day() },
        1 => draft with { ActiveTo = Chance(0.5) ? null : Day() },
        2 => draft with { RecruitedBy = Chance(0.3) ? "" : OneOf(payees).Id.Value },
        3 => draft with { HoldDays = Chance(0.3) ? null : _random.Next(80) },
        4 => draft with { OnHold = Chance(0.3) },
        5 => draft with { Codes = string.Join(' ', Some(["KÖ", "kö", "Kö", $"CODE{_random.Next(10)}", $"MORE{_random.Next(5)}"], 3)) },
        6 => draft with { CustomerKeys = string.Join(' ', Some(["k0", "k1", "k2", "k3", "k4"], 2)) },
        7 => draft with { Role = OneOf([PayeeRole.Affiliate, PayeeRole.Collaborator, PayeeRole.Vendor]) },
        8 => draft with { PayoutCurrency = OneOf(["EUR", "USD", "JPY"]) },
        _ => draft with { Minimum = Chance(0.5) ? "" : $"{_random.Next(90)}", WithholdingPercent = Chance(0.5) ? "" : "12.5", RecoupPercent = "50", TransferFee = Chance(0.5) ? "" : "1" },
    };

    private void PutOn()
    {
        var rules = Rules;
        var products = Chance(0.3) ? Some(rules.Products, 8).Select(p => p.Id.Value).ToArray() : null;
        _book.Do<AgreementDesk>(d => d.PutOn(OneOf([.. rules.Agreements]).Id.Value, OneOf([.. rules.Payees]).Id.Value, Day(), Lead, products));
    }

    private void TakeOff()
    {
        var membership = OneOf(Rows(db => db.Memberships.Select(m => m.Id)));
        _book.Do<AgreementDesk>(d => d.TakeOff(membership, Day(), Lead));
    }

    private void RedateMembership()
    {
        var membership = OneOf(Rows(db => db.Memberships.Select(m => m.Id)));
        _book.Do<AgreementDesk>(d => d.Redate(membership, Day(), Chance(0.5) ? null : Day(), Lead));
    }

    private void NeverOn()
    {
        var membership = OneOf(Rows(db => db.Memberships.Select(m => m.Id)));
        _book.Do<AgreementDesk>(d => d.NeverOn(membership, Lead));
    }

    private void RedateCode()
    {
        DateOnly? from = Chance(0.4) ? null : Day(), to = Chance(0.4) ? null : Day();
        if (Chance(0.4)) _book.Do<PayeeCodes>(c => c.Add(OneOf([.. Rules.Payees]).Id.Value, $"code{_random.Next(10)}", from, to, Lead));
        else if (Chance(0.2)) _book.Do<PayeeCodes>(c => c.TakeAway(OneOf(Rows(db => db.PayeeCodes.Select(p => p.Id))), Lead));
        else _book.Do<PayeeCodes>(c => c.Redate(OneOf(Rows(db => db.PayeeCodes.Select(p => p.Id))), from, to, Lead));
    }

    private void Approve()
    {
        var (membership, products) = (OneOf(Rows(db => db.Memberships.Select(m => m.Id))), Chance(0.3) ? null : Some(Rules.Products, 8).Select(p => p.Id.Value).ToArray());
        _book.Do<AgreementDesk>(d => d.ApproveFor(membership, products, Day(), Lead));
    }

    private void Publish()
    {
        var agreement = OneOf([.. Rules.Agreements]);
        var donor = OneOf([.. _donor.Rules.Agreements.Where(a => a.Basis == agreement.Basis).SelectMany(a => a.Versions)]) with { From = Day() };
        _book.Do<AgreementDesk>(d => d.Publish(agreement.Id.Value, AgreementDraft.Of("Next", agreement, donor), Lead));
    }

    private void Withdraw()
    {
        var version = OneOf(Rows(db => db.AgreementVersions.Select(v => v.Id)));
        _book.Do<AgreementDesk>(d => d.Withdraw(version, Lead));
    }

    private void WritePersonal()
    {
        var payee = OneOf([.. Rules.Payees.Where(p => p.Memberships.Count > 0)]);
        var agreement = Rules.Agreement(OneOf(payee.Memberships).Agreement);
        var term = AgreementDraft.Of("", agreement, OneOf([.. _donor.Rules.Agreements.SelectMany(a => a.Versions).Where(v => v.Terms.Count > 0)])).Terms[0];
        var from = Day();
        _book.Do<PersonalTerms>(t => t.Write(payee.Id.Value, new PersonalTermDraft { Agreement = agreement.Id.Value, From = from, To = Chance(0.3) ? from.AddDays(_random.Next(1, 200)) : null, Term = term }, Lead));
    }

    private void EndPersonal()
    {
        var term = OneOf(Rows(db => db.PersonalTerms.Select(t => t.Id)));
        _book.Do<PersonalTerms>(t => t.End(term, Day(), Lead));
    }

    private void GiveShare()
    {
        var rules = Rules;
        _book.Do<PersonalTerms>(t => t.Give(new ShareDraft
        {
            Payee = OneOf([.. rules.Payees]).Id.Value,
            Agreement = OneOf([.. rules.Agreements]).Id.Value,
            Products = [.. Some(rules.Products, 2).Select(p => p.Id.Value)],
            From = Day(),
            Share = new CaseDraft { Percent = $"{_random.Next(30)}" },
        }, Lead));
    }

    private void ChangeProduct()
    {
        var (products, payees) = (Rules.Products.ToArray(), Rules.Payees.ToArray());
        var id = OneOf(products).Id.Value;
        _book.Do<ProductDesk>(d => d.Save(id, _random.Next(6) switch
        {
            0 => d.Draft(id)! with { Vendor = Chance(0.3) ? "" : OneOf(payees).Id.Value },
            1 => d.Draft(id)! with { Collections = string.Join(", ", Some(["ca", "cb", "cc"], 2)) },
            2 => d.Draft(id)! with { ReturnDays = _random.Next(40) },
            3 => d.Draft(id)! with { UnitCost = Chance(0.2) ? "" : Major(_random.Next(1500)), CostCurrency = OneOf(["EUR", "USD"]) },
            4 => d.Draft(id)! with { Variants = string.Join(", ", Some(d.Draft(id)!.Variants.Split(", ", StringSplitOptions.RemoveEmptyEntries).Append($"y{_number++}"), 3)) },
            _ => d.Draft(id)! with { Price = "20.00", Plans = Chance(0.3) ? new PlanDraft() : new PlanDraft { Price = PriceKind.Fixed, AtMost = _random.Next(1, 30) } },
        }, Lead));
    }

    private void ChangeCost()
    {
        var product = OneOf([.. Rules.Products]);
        if (product.LaterCosts.Count > 0 && Chance(0.4)) _book.Do<UnitCosts>(c => c.Remove(product.Id.Value, OneOf(product.LaterCosts).From, Lead));
        else _book.Do<UnitCosts>(c => c.Add(product.Id.Value, Day(), Major(_random.Next(1500)), "EUR", Lead));
    }

    private void ChangeProcessor() => _book.Do<RateDesk>(d => d.SaveProcessor(new ScheduleDraft { Id = OneOf(["pr0", "pr1", "prX"]), Percent = $"{_random.Next(5)}", Fixed = Major(_random.Next(60)), Currency = OneOf(["EUR", "USD"]), From = Chance(0.5) ? Day() : null }, Lead));

    private void ChangeChannel() => _book.Do<RateDesk>(d => d.SaveChannel(new ScheduleDraft { Id = OneOf(["ch0", "ch1", "ch2", "ch3"]), Percent = $"{_random.Next(12)}", Fixed = Major(_random.Next(60)), Currency = "EUR", Rebate = $"{_random.Next(4)}", From = Chance(0.5) ? Day() : null }, Lead));

    private void AddRate()
    {
        var (from, to) = (OneOf(["EUR", "USD", "JPY", "KWD"]), OneOf(["EUR", "USD", "JPY", "KWD"]));
        if (from == to) return;
        var rate = new ExchangeRate(Day(), Currency.Of(from), Currency.Of(to), new Rate(_random.Next(100_000, 3_000_000)));
        _book.Do<RateDesk>(d => d.Add([rate], Lead));
    }

    private void ChangePolicies() => _book.Do<BookPolicies>(p => p.Save(Chance(0.5) ? ClickModel.First : ClickModel.Last, Chance(0.5), Lead));
}
