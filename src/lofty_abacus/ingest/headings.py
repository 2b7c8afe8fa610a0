"""Words that headings use, by what their columns stand for."""

from __future__ import annotations

from typing import Literal

from lofty_abacus.ingest.mapping import Role, plain_name

#: Words that headings use, by role; an exact word counts more than a part of one.
WORDS: dict[Role, tuple[str, ...]] = {
    "date": (
        "date",
        "day",
        "invoice_date",
        "order_date",
        "sale_date",
        "return_date",
        "datum",
        "fecha",
        "data",
        "jour",
        "period",
        "month",
        "year_month",
        "week",
        "monat",
        "mois",
        "woche",
        "quarter",
        "quartal",
        "trimestre",
        "year_quarter",
        "year",
        "jahr",
    ),
    "order": (
        "order",
        "order_id",
        "order_no",
        "order_number",
        "invoice",
        "invoice_no",
        "receipt",
        "document",
        "auftrag",
        "beleg",
        "bon",
        "belegnummer",
        "rechnung",
        "commande",
        "facture",
        "pedido",
        "factura",
        "ordernr",
        "ordernummer",
        "bestelling",
        "bestelnummer",
        "factuur",
        "factuurnummer",
        "ordine",
        "fattura",
        "encomenda",
        "fatura",
    ),
    "line": (
        "line",
        "line_id",
        "line_no",
        "line_ref",
        "transaction",
        "transaction_id",
        "row_id",
        "position",
        "regelnr",
        "regelnummer",
        "n_de_ligne",
        "no_de_ligne",
        "numero_de_ligne",
        "no_ligne",
        "zeilennr",
        "zeilennummer",
        "positionsnummer",
        "numero_de_linea",
        "numero_linea",
        "riga",
        "numero_riga",
        "linha",
        "numero_da_linha",
    ),
    "rep": (
        "rep",
        "sales_rep",
        "salesperson",
        "seller",
        "agent",
        "account_manager",
        "representative",
        "vertreter",
        "verkaufer",
        "verkauferin",
        "vendeur",
        "vendeuse",
        "vendedor",
        "vendedora",
        "vertegenwoordiger",
        "verkoper",
        "verkoopster",
        "agente",
        "venditore",
        "venditrice",
        "rappresentante",
        "representante",
    ),
    "region": ("region", "area", "territory", "sales_area", "gebiet", "zone", "zona", "regio", "gebied", "regione", "regiao"),
    "product": (
        "product",
        "item",
        "sku",
        "article",
        "product_id",
        "product_code",
        "artikel",
        "produkt",
        "produit",
        "producto",
        "articulo",
        "articolo",
        "ware",
        "prodotto",
        "produto",
        "artigo",
    ),
    "customer": (
        "customer",
        "client",
        "account",
        "buyer",
        "customer_id",
        "customer_no",
        "kunde",
        "cliente",
        "klant",
        "klantnummer",
    ),
    "channel": ("channel", "sales_channel", "segment", "kanal", "canal", "kanaal", "canale"),
    "quantity": (
        "quantity",
        "qty",
        "units",
        "pieces",
        "count",
        "volume",
        "menge",
        "anzahl",
        "quantite",
        "cantidad",
        "aantal",
        "quantita",
        "quantidade",
    ),
    "amount": (
        "amount",
        "net",
        "net_amount",
        "revenue",
        "sales",
        "total",
        "value",
        "turnover",
        "line_total",
        "umsatz",
        "betrag",
        "bedrag",
        "omzet",
        "montant",
        "importe",
        "importo",
        "imponibile",
        "fatturato",
        "valor",
    ),
    "marker": ("type", "kind", "transaction_type", "document_type", "line_type", "sale_or_return", "side", "art", "tipo"),
    "price": ("price", "unit_price", "list_price", "preis", "einzelpreis", "prix", "precio", "prezzo", "preco"),
    "unit_cost": (
        "unit_cost",
        "cost_per_unit",
        "cost_price",
        "unit_cost_price",
        "einstandspreis",
        "stuckkosten",
        "cout_unitaire",
        "costo_unitario",
        "custo_unitario",
    ),
    "discount_rate": (
        "discount_rate",
        "discount_pct",
        "discount_percent",
        "discount_percentage",
        "percent_discount",
        "pct_off",
        "percent_off",
        "rabatt_prozent",
        "rabattsatz",
        "remise_pct",
    ),
    "currency": ("currency", "currency_code", "curr", "ccy", "waehrung", "wahrung", "devise", "moneda", "valuta", "iso_currency"),
    "discount": ("discount", "rebate", "rabatt", "remise", "descuento", "sconto", "desconto"),
    "cost": ("cost", "cost_amount", "cogs", "cost_of_sales", "kosten", "cout", "coste", "costo", "custo"),
}
#: Headings of dates that stand in several columns, and of the day from which a row of a lookup holds.
PART_WORDS: dict[Literal["year", "month", "day"], tuple[str, ...]] = {
    "year": ("year", "jahr", "annee", "ano", "anno", "fiscal_year"),
    "month": ("month", "monat", "mois", "mes", "mese", "month_no", "month_number"),
    "day": ("day", "tag", "jour", "dia", "giorno", "day_of_month"),
}
#: Headings of what the members of a lookup's first column are called.
NAME_WORDS = ("name", "nom", "naam", "nombre", "nome", "namn", "navn", "bezeichnung", "designation", "libelle", "omschrijving")
VALID_WORDS = (
    "valid_from",
    "from",
    "since",
    "effective",
    "effective_from",
    "start",
    "starts",
    "gueltig_ab",
    "gultig_ab",
    "desde",
)
#: Headings of rates of currencies.
RATE_WORDS = ("rate", "fx", "fx_rate", "exchange_rate", "kurs", "wechselkurs", "cours", "taux", "cambio", "tipo_de_cambio")
#: Words in the headings of amounts beside the one that is reported: what they are, they are not the cost of what was sold.
FURTHER_AMOUNT_WORDS = (
    "freight", "shipping", "postage", "delivery", "handling", "tax", "vat", "gst", "duty", "customs", "fee", "fees", "surcharge",
    "commission", "bonus", "deposit", "insurance", "list", "gross", "fracht", "versand", "porto", "steuer", "mwst", "zoll",
    "gebuhr", "provision", "brutto", "port", "taxe", "tva", "frais", "iva", "flete", "envio", "bruto",
)  # fmt: skip
#: Of these, those of which more is bad for whoever sells.
ADVERSE_WORDS = (
    "freight", "shipping", "postage", "handling", "tax", "vat", "gst", "duty", "customs", "fee", "fees", "commission",
    "fracht", "versand", "porto", "steuer", "mwst", "zoll", "gebuhr", "provision", "port", "taxe", "tva", "frais", "iva", "flete",
    "envio",
)  # fmt: skip
#: Words in the headings of quantities beside the one that is sold, with the unit that they are counted in.
FURTHER_QUANTITY_WORDS = {
    "hours": "h", "hrs": "h", "stunden": "h", "heures": "h", "horas": "h", "minutes": "min", "weight": "kg", "kg": "kg",
    "gewicht": "kg", "poids": "kg", "peso": "kg", "tonnes": "t", "litres": "l", "liters": "l", "km": "km", "distance": "km",
    "pallets": "pallets", "boxes": "boxes", "cartons": "cartons", "pages": "pages", "volume": "",
}  # fmt: skip
#: Words in the headings of rates and prices of one: they add up to nothing.
NO_SUM_WORDS = (
    "rate",
    "pct",
    "percent",
    "percentage",
    "ratio",
    "index",
    "score",
    "margin",
    "unit",
    "per",
    "satz",
    "prozent",
    "taux",
)
#: Headings of the day that counts, whatever other days stand beside it.
USUAL_DAY_WORDS = (
    "date",
    "day",
    "datum",
    "fecha",
    "data",
    "jour",
    "sale_date",
    "transaction_date",
    "return_date",
    "verkaufsdatum",
)


def words_of(header: str) -> set[str]:
    """The words of a heading."""
    return set(plain_name(header).split("_"))


def score(header: str, role: Role) -> int:
    """How well a heading names a role: an exact word counts more than a part of one; 0 where it does not."""
    name = plain_name(header)
    if name in WORDS[role]:
        return 100 - WORDS[role].index(name)
    parts = set(name.split("_"))
    hits = [len(word) for word in WORDS[role] if word in parts or set(word.split("_")) <= parts]
    return max(hits, default=0)


def names_exactly(header: str, role: Role) -> bool:
    """Whether a heading is one of the words of a role."""
    return plain_name(header) in WORDS[role]
