namespace EvenSplit.Core;

/// <summary>
/// Everything an order is worked out against, indexed once: policies, rates, fee schedules, catalogue, payees, agreements.
/// Immutable; what a line can earn for whom is found per product, not by walking every agreement.
/// </summary>
public sealed class Rulebook : IKnownIds
{
    // By the text of the ids: a dictionary of texts is at hand compiled, and asked faster than one of ids.
    private readonly Dictionary<string, SoldProduct> _products;
    private readonly Dictionary<string, Payee> _payees;
    private readonly Dictionary<string, Agreement> _agreements;
    private readonly Dictionary<string, Processor> _processors;
    private readonly Dictionary<string, Channel> _channels;
    private readonly Dictionary<string, ProductId> _productsByVariant = [];
    private readonly Dictionary<string, List<(Payee Payee, PayeeCode Code)>> _payeesByCode = new(StringComparer.Ordinal);
    private readonly List<PayeeOnAgreement> _contributors = [];
    private readonly ILookup<PayeeId, PayeeOnAgreement> _suppliers;
    private readonly Dictionary<string, (Membership Membership, Agreement Agreement)[]> _referralsByPayee = [];

    public Rulebook(
        BookPolicy policy,
        ExchangeRates rates,
        IEnumerable<Processor> processors,
        IEnumerable<Channel> channels,
        IEnumerable<Product> products,
        IEnumerable<Payee> payees,
        IEnumerable<Agreement> agreements)
    {
        Policy = policy;
        Rates = rates;
        _processors = processors.ToDictionary(p => p.Id.Value);
        _channels = channels.ToDictionary(c => c.Id.Value);
        _products = products.ToDictionary(p => p.Id.Value, p => new SoldProduct(this, p));
        foreach (var sold in _products.Values)
        {
            foreach (var variant in sold.Product.Variants) _productsByVariant[variant.Value] = sold.Product.Id;
        }
        _payees = payees.ToDictionary(p => p.Id.Value);
        _agreements = agreements.ToDictionary(a => a.Id.Value);
        var suppliers = new List<PayeeOnAgreement>();
        foreach (var payee in _payees.Values)
        {
            foreach (var code in payee.Codes)
            {
                var normal = CouponCode.Normal(code.Text);
                if (_payeesByCode.TryGetValue(normal, out var owners)) owners.Add((payee, code));
                else _payeesByCode.Add(normal, [(payee, code)]);
            }
            var referrals = payee.Memberships.Select(m => (m, _agreements[m.Agreement.Value])).Where(m => m.Item2.Basis == Basis.Referral).ToArray();
            if (referrals.Length > 0) _referralsByPayee[payee.Id.Value] = referrals;
            foreach (var id in payee.Memberships.Select(m => m.Agreement).Distinct())
            {
                var pair = new PayeeOnAgreement(payee, _agreements[id.Value]);
                if (pair.Agreement.Basis == Basis.Contribution) _contributors.Add(pair);
                if (pair.Agreement.Basis == Basis.Supply) suppliers.Add(pair);
            }
        }
        _suppliers = suppliers.ToLookup(s => s.Payee.Id);
    }

    public BookPolicy Policy { get; }
    public ExchangeRates Rates { get; }
    public IEnumerable<Payee> Payees => _payees.Values;
    public IEnumerable<Agreement> Agreements => _agreements.Values;
    public IEnumerable<Product> Products => _products.Values.Select(p => p.Product);
    public IEnumerable<Processor> Processors => _processors.Values;
    public IEnumerable<Channel> Channels => _channels.Values;

    /// <summary>The same book with another catalogue, other payees and other agreements: for trying things out.</summary>
    public Rulebook With(IEnumerable<Product> products, IEnumerable<Payee> payees, IEnumerable<Agreement> agreements) =>
        new(Policy, Rates, _processors.Values, _channels.Values, products, payees, agreements);

    public Product Product(ProductId id) => _products[id.Value].Product;
    public Product? FindProduct(ProductId id) => _products.GetValueOrDefault(id.Value)?.Product;
    public Payee Payee(PayeeId id) => _payees[id.Value];
    public Payee? FindPayee(PayeeId id) => _payees.GetValueOrDefault(id.Value);
    public Agreement Agreement(AgreementId id) => _agreements[id.Value];
    public Agreement? FindAgreement(AgreementId id) => _agreements.GetValueOrDefault(id.Value);
    public Processor? FindProcessor(ProcessorId id) => _processors.GetValueOrDefault(id.Value);
    public Channel? FindChannel(ChannelId id) => _channels.GetValueOrDefault(id.Value);

    public bool HasProduct(ProductId id) => _products.ContainsKey(id.Value);
    public ProductId? ProductOf(VariantId variant) => _productsByVariant.TryGetValue(variant.Value, out var product) ? product : null;
    public bool HasPayee(PayeeId id) => _payees.ContainsKey(id.Value);

    /// <summary>The payee a coupon code belongs to on a day; codes compare without regard to ASCII case.</summary>
    public Payee? FindPayeeByCode(string code, DateOnly date)
    {
        if (!_payeesByCode.TryGetValue(CouponCode.Normal(code), out var owners)) return null;
        foreach (var (payee, owned) in owners)
        {
            if (owned.InForceOn(date)) return payee;
        }
        return null;
    }

    /// <summary>Everybody a coupon code belongs to on some day.</summary>
    public IEnumerable<Payee> OwnersOfCode(string code) => _payeesByCode.TryGetValue(CouponCode.Normal(code), out var owners) ? owners.Select(o => o.Payee).Distinct() : [];

    /// <summary>The payee's referral agreement in force on the date (at most one may be), with its version.</summary>
    public (Agreement Agreement, AgreementVersion Version)? ReferralInForce(Payee payee, DateOnly date)
    {
        if (!_referralsByPayee.TryGetValue(payee.Id.Value, out var referrals)) return null;
        foreach (var (membership, agreement) in referrals)
        {
            if (membership.InForceOn(date) && agreement.VersionOn(date) is { } version) return (agreement, version);
        }
        return null;
    }

    /// <summary>Who could earn on the product by contribution or supply under some version or personal term.</summary>
    public IReadOnlyList<PayeeOnAgreement> Sharers(ProductId id) => _products[id.Value].Sharers;

    internal SoldProduct Sold(ProductId id) => _products[id.Value];

    internal PayeeOnAgreement[] SharersIn(Product product) =>
        _contributors.Concat(product.Vendor is { } vendor ? _suppliers[vendor] : []).Where(s => s.CouldCover(product)).ToArray();
}

/// <summary>A product with who could earn on it, which is found out when it is first sold.</summary>
internal sealed class SoldProduct(Rulebook rules, Product product)
{
    // Whoever asks first finds the same as whoever asks at the same time.
    private PayeeOnAgreement[]? _sharers;

    public Product Product { get; } = product;

    public PayeeOnAgreement[] Sharers => _sharers ??= rules.SharersIn(Product);
}

/// <summary>A payee who is, was or will be on an agreement.</summary>
public sealed class PayeeOnAgreement(Payee payee, Agreement agreement)
{
    public Payee Payee { get; } = payee;
    public Agreement Agreement { get; } = agreement;

    internal bool CouldCover(Product product) =>
        Payee.Memberships.Any(m => m.Agreement == Agreement.Id && m.IsFor(product.Id))
        && (Agreement.Versions.Any(v => v.Terms.Any(t => t.Scope.MayCover(product)))
            || Payee.PersonalTerms.Any(p => p.Agreement == Agreement.Id && p.Term.Scope.MayCover(product)));
}
