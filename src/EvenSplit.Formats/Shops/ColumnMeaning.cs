using EvenSplit.Core;
using EvenSplit.Formats.Csv;

namespace EvenSplit.Formats.Shops;

/// <summary>What the cells of a column are.</summary>
internal enum CellKind { Text, List, Amount, TakenOff, Instant, Date, Count, Currency, YesNo }

/// <summary>What our columns hold, whatever file they stand in, and what else they are called.</summary>
/// <param name="Words">How it is said on screens.</param>
/// <param name="Names">Other names, in small letters with a space between words; the likeliest first.</param>
internal sealed record ColumnMeaning(string Column, CellKind Kind, string Words, params string[] Names)
{
    private static readonly Dictionary<string, ColumnMeaning> ByColumn = new ColumnMeaning[]
    {
        new("order_id", CellKind.Text, "order", "order no", "order number", "order", "order nr", "order ref", "order reference", "sale", "sale id", "purchase id", "bestellnummer", "bestellung", "auftrag", "auftragsnummer", "commande", "numero de commande", "pedido", "numero de pedido", "ordine", "numero ordine"),
        new("channel", CellKind.Text, "channel", "shop", "store", "sales channel", "sold on", "marketplace", "kanal", "canal", "canale"),
        new("placed_at", CellKind.Instant, "when it was placed", "order date", "ordered at", "ordered on", "ordered", "created", "created at", "created on", "date", "date time", "placed", "placed on", "sold on", "datum", "bestelldatum", "auftragsdatum", "date de commande", "fecha", "fecha de pedido", "data ordine"),
        new("paid_at", CellKind.Instant, "when it was paid", "paid", "paid on", "payment date", "date paid", "captured", "captured at", "bezahlt am", "zahlungsdatum", "bezahlt", "date de paiement", "fecha de pago", "data pagamento"),
        new("currency", CellKind.Currency, "currency", "cur", "ccy", "currency code", "order currency", "wahrung", "waehrung", "devise", "moneda", "divisa", "valuta"),
        new("processor", CellKind.Text, "payment processor", "payment provider", "paid with", "paid by", "payment method", "payment type", "payment", "gateway", "zahlungsart", "zahlung", "moyen de paiement", "metodo de pago", "pagamento"),
        new("customer", CellKind.Text, "new or returning customer", "customer type", "customer kind", "buyer type", "new or returning", "kundenart", "type de client"),
        new("customer_key", CellKind.Text, "the shop's key of the customer", "customer id", "customer no", "customer number", "buyer", "buyer id", "client id", "kundennummer", "numero client", "cliente"),
        new("prices_include_tax", CellKind.YesNo, "prices include tax", "tax included", "taxes included", "gross prices", "inkl mwst"),
        new("order_discount", CellKind.TakenOff, "discount on the order", "discount total", "discount amount", "total discount", "cart discount", "order discount", "rabatt gesamt", "gutschein betrag", "remise totale", "descuento total", "sconto totale"),
        new("shipping", CellKind.Amount, "shipping charged", "shipping charged", "shipping cost", "shipping costs", "shipping fee", "shipping price", "postage", "delivery", "delivery fee", "delivery cost", "carriage", "versand", "versandkosten", "porto", "frais de port", "livraison", "envio", "gastos de envio", "spedizione"),
        new("shipping_tax", CellKind.Amount, "tax on shipping", "tax on shipping", "vat on shipping", "shipping vat", "delivery tax", "versand mwst", "versandsteuer"),
        new("processing_fee", CellKind.TakenOff, "processing fee", "payment fee", "transaction fee", "processor fee", "gateway fee", "fee", "zahlungsgebuhr", "transaktionsgebuhr", "gebuhr", "frais de paiement", "comision", "commissione"),
        new("channel_fee", CellKind.TakenOff, "channel's fee", "marketplace fee", "shop fee", "selling fee", "platform fee", "listing fee", "verkaufsgebuhr", "frais de vente"),
        new("rebate", CellKind.TakenOff, "rebate", "cashback", "loyalty rebate", "bonus paid back"),
        new("coupon_codes", CellKind.List, "coupon codes", "coupon", "coupon code", "coupons", "discount code", "discount codes", "code", "codes", "promo code", "promotion code", "voucher", "voucher code", "gutschein", "gutscheincode", "code promo", "codigo", "codigo de descuento", "codice sconto"),
        new("manual_payee", CellKind.Text, "assigned to payee", "affiliate", "affiliate id", "referred by", "referrer", "partner"),
        new("origin_order", CellKind.Text, "first order of the payments", "original order", "first order", "parent order", "subscription order"),
        new("test", CellKind.YesNo, "test order", "is test", "test order", "testbestellung"),
        new("visitor", CellKind.Text, "visitor", "visitor id", "session", "session id", "browser id"),
        new("line_id", CellKind.Text, "line", "line no", "line number", "line", "position", "pos", "item id", "item no", "row", "zeile", "ligne", "linea"),
        new("product", CellKind.Text, "product id", "sku", "product id", "product code", "item code", "item sku", "article", "article no", "article number", "art nr", "artikelnummer", "artikel nr", "artikel", "reference", "ref", "codigo de producto", "codice articolo", "product", "item", "produkt", "produit", "producto", "prodotto"),
        new("product_name", CellKind.Text, "product's name", "product name", "product title", "item name", "item title", "title", "description", "artikelname", "bezeichnung", "produktname", "designation", "nom du produit", "descripcion", "descrizione", "product", "item", "article", "artikel", "produkt", "produit", "producto", "prodotto"),
        new("variant", CellKind.Text, "variant", "variant id", "option", "variante", "variant sku"),
        new("quantity", CellKind.Count, "quantity", "qty", "quantity ordered", "units", "pieces", "pcs", "no of items", "menge", "anzahl", "stuck", "stueck", "quantite", "qte", "cantidad", "quantita", "count"),
        new("unit_price", CellKind.Amount, "unit price", "unit price", "price each", "price per unit", "item price", "each", "price", "einzelpreis", "stuckpreis", "preis", "prix unitaire", "prix", "precio unitario", "precio", "prezzo unitario", "prezzo"),
        new("line_discount", CellKind.TakenOff, "discount on the line", "item discount", "discount", "line discount amount", "rabatt", "nachlass", "remise", "descuento", "sconto"),
        new("line_tax", CellKind.Amount, "tax of the line", "tax", "vat", "item tax", "tax amount", "vat amount", "line vat", "mwst", "mwst betrag", "ust", "steuer", "tva", "iva", "btw", "gst"),
        new("requires_shipping", CellKind.YesNo, "is shipped", "requires shipping", "shipped", "physical", "needs shipping", "is physical", "versandpflichtig"),
        new("payment_number", CellKind.Count, "which payment of a plan", "payment no", "payment number", "instalment", "installment", "renewal no", "rate nr"),
        new("refund_id", CellKind.Text, "refund", "refund no", "refund number", "refund", "refund ref", "credit note", "credit note no", "return no", "return id", "gutschrift", "gutschriftnummer", "erstattung", "avoir", "remboursement", "reembolso", "rimborso"),
        new("at", CellKind.Instant, "when", "refund date", "refunded at", "refunded on", "returned on", "clicked at", "date", "time", "datum", "erstattet am", "fecha", "data"),
        new("kind", CellKind.Text, "kind", "type", "reason type", "art", "tipo"),
        new("goods", CellKind.TakenOff, "goods refunded", "amount", "refund amount", "refunded amount", "refunded", "net refund", "goods amount", "betrag", "erstattungsbetrag", "montant", "importe", "importo"),
        new("tax", CellKind.TakenOff, "tax refunded", "tax", "vat", "refunded tax", "refunded vat", "mwst", "steuer", "tva", "iva", "btw"),
        new("processing_fee_returned", CellKind.TakenOff, "processing fee given back", "fee returned", "fee refunded", "returned fee", "gebuhr erstattet"),
        new("dispute_fee", CellKind.TakenOff, "fee of the dispute", "chargeback fee", "dispute charge", "ruckbuchungsgebuhr"),
        new("payee", CellKind.Text, "payee's id", "id", "payee id", "partner id", "affiliate id", "creator id", "partner no", "kurzel", "handle", "affiliate", "partner", "creator"),
        new("page", CellKind.Text, "page", "landing page", "url", "target"),
        new("source", CellKind.Text, "where the link was", "referrer", "referer", "came from", "campaign"),
        new("name", CellKind.Text, "name", "full name", "display name", "partner name", "creator", "affiliate", "partner", "payee name", "product name", "title", "bezeichnung", "nom", "nombre", "nome"),
        new("role", CellKind.Text, "role", "type", "kind", "partner type", "category", "rolle", "art", "funktion"),
        new("email", CellKind.Text, "e-mail", "e mail", "email address", "e mail address", "mail", "contact", "e mail adresse", "courriel", "correo"),
        new("payout_currency", CellKind.Currency, "paid in", "payout currency", "currency", "paid in", "wahrung", "waehrung", "devise", "moneda", "valuta"),
        new("payout_method", CellKind.Text, "paid by", "payout method", "paid by", "method", "payment method", "pay by", "zahlungsart", "auszahlung"),
        new("account", CellKind.Text, "bank account or wallet", "iban", "bank account", "account no", "account number", "wallet", "kontonummer", "konto", "compte", "cuenta", "conto"),
        new("active_from", CellKind.Date, "active from", "joined", "joined on", "since", "start", "start date", "member since", "from", "partner since", "beginn", "seit", "eintritt", "depuis", "desde", "dal"),
        new("active_to", CellKind.Date, "active until", "left", "left on", "end", "end date", "until", "ende", "bis", "austritt"),
        new("codes", CellKind.List, "coupon codes", "code", "coupon", "coupon code", "coupon codes", "discount code", "discount codes", "promo code", "voucher", "gutscheincode", "gutschein", "code promo", "codigo", "codice"),
        new("minimum", CellKind.Amount, "smallest payment", "minimum payout", "payout minimum", "minimum payment", "threshold", "mindestbetrag", "minimum amount"),
        new("schedule", CellKind.Text, "schedule", "payout schedule", "paid every", "pay cycle", "rhythmus"),
        new("hold_days", CellKind.Count, "days held", "hold", "hold period", "days held", "clearing days"),
        new("recruited_by", CellKind.Text, "recruited by", "recruiter", "referred by", "invited by", "brought by", "geworben von"),
        new("agreements", CellKind.List, "agreements", "agreement", "programme", "terms", "plan", "vereinbarung"),
        new("withholding_percent", CellKind.Amount, "withholding per cent", "withholding", "withholding tax", "withholding rate", "quellensteuer"),
        new("tax_form", CellKind.Text, "tax form", "tax form on file", "tax document"),
        new("price", CellKind.Amount, "price", "unit price", "retail price", "list price", "sale price", "preis", "prix", "precio", "prezzo"),
        new("collections", CellKind.List, "collections", "collection", "category", "categories", "group", "kategorie", "warengruppe", "tags"),
        new("vendor", CellKind.Text, "vendor", "supplier", "manufacturer", "maker", "lieferant", "hersteller", "fournisseur", "proveedor", "fornitore"),
        new("unit_cost", CellKind.Amount, "unit cost", "cost", "purchase price", "cost price", "cost per unit", "einkaufspreis", "einkauf", "cout", "coste", "costo"),
        new("cost_currency", CellKind.Currency, "currency of the cost", "cost currency"),
        new("settlement_id", CellKind.Text, "settlement", "settlement no", "payout id", "payout no", "batch", "batch id", "abrechnung", "abrechnungsnummer"),
        new("settled_on", CellKind.Date, "day it was settled", "settlement date", "settled", "payout date", "date", "datum", "auszahlungsdatum", "fecha", "data"),
        new("type", CellKind.Text, "what the line is", "type", "kind", "transaction type", "art", "typ", "tipo"),
        new("net", CellKind.Amount, "net amount", "net amount", "net total", "netto", "nettobetrag", "montant net", "neto"),
        new("gross", CellKind.Amount, "gross amount", "gross amount", "amount", "brutto", "bruttobetrag", "betrag", "montant brut", "bruto"),
        new("fee", CellKind.Amount, "fee taken", "fees", "processing fee", "transaction fee", "gebuhr", "gebuhren", "frais", "comision", "commissione"),
        new("reference", CellKind.Text, "reference", "payment reference", "transaction id", "transaction no", "end to end id", "referenz", "kundenreferenz", "reference client", "referencia", "riferimento"),
        new("booked_on", CellKind.Date, "day it was booked", "booking date", "booked", "posted on", "value date", "date", "buchungstag", "buchungsdatum", "valuta", "datum", "date operation", "fecha", "data contabile"),
        new("amount", CellKind.Amount, "amount", "sum", "value", "betrag", "umsatz", "montant", "importe", "importo"),
        new("balance_after", CellKind.Amount, "balance after it", "balance", "running balance", "saldo", "kontostand", "solde"),
        new("note", CellKind.Text, "note", "description", "details", "purpose", "payment details", "reason", "memo", "comment", "verwendungszweck", "notiz", "grund", "bemerkung", "libelle", "concepto", "causale"),
        new("report", CellKind.Text, "report", "report id", "report no", "statement no", "bericht"),
        new("invoice", CellKind.Text, "invoice", "invoice no", "invoice number", "rechnung", "rechnungsnummer", "facture", "factura", "fattura"),
        new("issued_on", CellKind.Date, "day it was issued", "issue date", "invoice date", "rechnungsdatum", "date de facture", "fecha de factura"),
        new("due_on", CellKind.Date, "day it is due", "due date", "due", "payable by", "fallig am", "falligkeit", "echeance", "vencimiento", "scadenza"),
        new("on", CellKind.Date, "day", "date", "day", "effective date", "datum", "tag", "fecha", "data"),
        new("date", CellKind.Date, "day", "day", "rate date", "as of", "datum", "tag", "stichtag", "fecha", "data"),
        new("rate", CellKind.Amount, "rate", "exchange rate", "reference rate", "kurs", "wechselkurs", "taux", "tipo de cambio", "cambio"),
        new("partners.from", CellKind.Date, "first day", "from", "period start", "start date", "von"),
        new("partners.to", CellKind.Date, "last day", "to", "period end", "end date", "until", "bis"),
        new("rates.from", CellKind.Currency, "currency converted", "from currency", "base", "base currency", "source currency", "von", "basiswahrung"),
        new("rates.to", CellKind.Currency, "currency it becomes", "to currency", "currency", "quote currency", "target currency", "nach", "wahrung", "zielwahrung"),
        new("agreement", CellKind.Text, "agreement's id", "agreement id", "programme", "plan", "deal", "vereinbarung"),
        new("scope_kind", CellKind.Text, "what it covers", "scope", "covers", "applies to kind", "gilt fur"),
        new("scope_id", CellKind.Text, "which product or collection", "product", "collection", "applies to", "sku", "item", "produkt", "artikel"),
        new("percent", CellKind.Amount, "per cent", "percentage", "commission", "commission rate", "share", "rate", "prozent", "provision", "anteil", "pourcentage", "porcentaje", "percentuale"),
        new("per_unit", CellKind.Amount, "amount for each unit", "per unit", "per piece", "per item", "pro stuck"),
        new("per_order", CellKind.Amount, "amount for each order", "per order", "flat fee", "flat", "pro bestellung"),
        new("order_value_at_least", CellKind.Amount, "order value from", "minimum order", "order value", "min order value", "mindestbestellwert"),
        new("return_days", CellKind.Count, "days for returns", "return period", "returns", "return window", "ruckgabe tage"),
    }.ToDictionary(m => m.Column);

    /// <summary>What the columns of a kind of file hold.</summary>
    public static IEnumerable<ColumnMeaning> Of(CsvColumns columns) => columns.All.Select(c => Of(c, columns.FileKind));

    /// <summary>A column that means another thing in one kind of file stands under that; one that nothing is known of is text.</summary>
    public static ColumnMeaning Of(string column, string fileKind)
    {
        if (ByColumn.TryGetValue($"{fileKind}.{column}", out var own)) return own with { Column = column };
        if (ByColumn.TryGetValue(column, out var known)) return known;
        // A table of rates has a column for each currency.
        return new ColumnMeaning(column, Currency.TryOf(column, out _) ? CellKind.Amount : CellKind.Text, column.Replace('_', ' '));
    }
}

/// <summary>Our columns in words.</summary>
public static class ColumnMeanings
{
    /// <param name="fileKind">Of what it is a column.</param>
    public static string Words(string column, string fileKind) => ColumnMeaning.Of(column, fileKind).Words;
}
