using EvenSplit.Books.Model;
using EvenSplit.Core;

namespace EvenSplit.Demo;

/// <summary>Who shares in what Hedgerow &amp; Sky sells. All names are made up.</summary>
internal static class DemoPeople
{
    private static readonly string[] Places = ["Quiet Field", "Low Tide", "Stone Wall", "Green Lane", "Far Orchard", "Silver Birch", "Rushy Pond", "Long Acre", "Thistle Bank", "Early Frost", "Crooked Stile"];
    private static readonly string[] Kinds = ["Podcast", "Letter", "Notebook"];
    private static readonly string[] Illustrators = ["Ines Fennelow", "Tomas Quillane", "Orla Dellamere", "Bram Pucknell", "Sunniva Tarsk", "Wilf Hobbick", "Mirela Ashgrave", "Odhran Larkfold"];
    private static readonly string[] Recordists = ["Edda Sarnwood", "Col Marrowby", "Yuki Tanabata", "Piet Rookhurst", "Nessa Wrenfold", "Gwil Thornaby"];
    private static readonly string[] Schools = ["Lapwing Schools Network", "Hillfoot Teachers’ Circle", "Riverbank Home Learners"];

    public static readonly DateOnly Start = new(2025, 8, 1);

    public static IReadOnlyList<PayeeRecord> Records(Random random)
    {
        var payees = new List<PayeeRecord>();
        foreach (var name in Places.SelectMany(p => Kinds.Select(k => $"{p} {k}"))) payees.Add(Affiliate(name, random));
        foreach (var name in Schools) payees.Add(Affiliate(name, random, "school-network"));
        foreach (var name in Illustrators[..4]) payees.Add(Payee(name, PayeeRole.Collaborator, "guide-illustrators"));
        foreach (var name in Illustrators[4..]) payees.Add(Payee(name, PayeeRole.Collaborator, "print-artists"));
        foreach (var name in Recordists) payees.Add(Payee(name, PayeeRole.Collaborator, "sound-recordists"));
        payees.Add(Payee("Hester Vane-Moor", PayeeRole.Collaborator, "co-author"));
        payees.Add(Payee("Studio Rowanberry", PayeeRole.Collaborator, "pin-designs"));
        payees.Add(Payee("Cassia Brightwater", PayeeRole.Collaborator, "club-hosts"));
        payees.Add(Payee("Fintan Oakapple", PayeeRole.Collaborator, "club-hosts"));
        payees.Add(Payee("Brackenside Joinery", PayeeRole.Vendor, "nest-box-makers"));
        payees.Add(Payee("Lowmeadow Seeds", PayeeRole.Vendor, "seed-growers"));
        payees.Add(Payee("Harrow & Buckle", PayeeRole.Vendor, "strap-makers"));
        Particulars(payees);
        return payees;
    }

    /// <summary>What sets single payees apart: currencies, minimums, withholding, an advance, a hold.</summary>
    private static void Particulars(List<PayeeRecord> payees)
    {
        PayeeRecord The(string id) => payees.Single(p => p.Id == id);
        foreach (var id in new[] { "quiet-field-podcast", "stone-wall-letter", "tomas-quillane", "green-lane-notebook" }) The(id).PayoutCurrency = "GBP";
        foreach (var id in new[] { "low-tide-podcast", "far-orchard-letter", "bram-pucknell" }) The(id).PayoutCurrency = "USD";
        The("yuki-tanabata").PayoutCurrency = "JPY";
        foreach (var affiliate in payees.Where(p => p is { Role: PayeeRole.Affiliate, PayoutCurrency: "EUR" })) affiliate.Minimum = 2000;
        The("bram-pucknell").WithholdingPercent = new Rate(150_000);
        The("low-tide-podcast").TransferFee = 250;
        The("ines-fennelow").Advances.Add(new AdvanceRecord { Reference = "1", On = new DateOnly(2026, 2, 2), Amount = 40000, Note = "Advance on the moss guide" });
        The("ines-fennelow").RecoupPercent = new Rate(500_000);
        The("crooked-stile-letter").OnHold = true;
        foreach (var payee in payees.Where(p => p.Id is not ("rushy-pond-letter" or "piet-rookhurst"))) payee.TaxForm = "Declaration of residence, 2026";
        foreach (var payee in payees) payee.Email = $"{payee.Id}@people.example";
        The("early-frost-podcast").ActiveTo = new DateOnly(2026, 6, 1);
    }

    private static PayeeRecord Affiliate(string name, Random random, string agreement = "friends-of-the-hedge")
    {
        var payee = Payee(name, PayeeRole.Affiliate, agreement);
        var word = new string(name.Where(char.IsAsciiLetter).ToArray()).ToUpperInvariant();
        payee.Codes.Add(new PayeeCodeRecord { Code = word[..Math.Min(8, word.Length)] + name.Split(' ')[^1][..1].ToUpperInvariant() + random.Next(5, 20) });
        return payee;
    }

    private static PayeeRecord Payee(string name, PayeeRole role, string agreement)
    {
        var letters = new string(name.ToLowerInvariant().Where(c => char.IsAsciiLetter(c) || c is ' ' or '&' or '-').ToArray()).Replace("&", "and", StringComparison.Ordinal);
        return new PayeeRecord
        {
            Id = string.Join('-', letters.Split(' ', StringSplitOptions.RemoveEmptyEntries)),
            Name = name,
            Role = role,
            Email = null,
            PayoutCurrency = "EUR",
            ActiveFrom = Start,
            Memberships = [new MembershipRecord { AgreementId = agreement, From = Start }],
        };
    }
}
