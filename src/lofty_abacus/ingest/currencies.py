"""Currencies as files write them: codes of ISO 4217, and the signs that stand for them."""

from __future__ import annotations

#: Codes in use.
CODES = frozenset(
    """
    AED AFN ALL AMD ANG AOA ARS AUD AWG AZN BAM BBD BDT BGN BHD BIF BMD BND BOB BRL BSD BTN BWP BYN BZD CAD CDF
    CHF CLP CNY COD COP CRC CUP CVE CZK DJF DKK DOP DZD EGP ERN ETB EUR FJD FKP GBP GEL GHS GIP GMD GNF GTQ GYD
    HKD HNL HTG HUF IDR ILS INR IQD IRR ISK JMD JOD JPY KES KGS KHR KMF KPW KRW KWD KYD KZT LAK LBP LKR LRD LSL
    LYD MAD MDL MGA MKD MMK MNT MOP MRU MUR MVR MWK MXN MYR MZN NAD NGN NIO NOK NPR NZD OMR PAB PEN PGK PHP PKR
    PLN PYG QAR RON RSD RUB RWF SAR SBD SCR SDG SEK SGD SHP SLE SOS SRD SSP STN SVC SYP SZL THB TJS TMT TND TOP
    TRY TTD TWD TZS UAH UGX USD UYU UZS VED VES VND VUV WST XAF XCD XOF XPF YER ZAR ZMW ZWG
    """.split()  # noqa: SIM905 (a list of one code a line would be as long as the file)
)
#: A sign, and the codes that it may stand for: the ledger's own currency if it is among them, else the first.
SIGNS: dict[str, tuple[str, ...]] = {
    "US$": ("USD",),
    "A$": ("AUD",),
    "C$": ("CAD",),
    "NZ$": ("NZD",),
    "HK$": ("HKD",),
    "S$": ("SGD",),
    "R$": ("BRL",),
    "€": ("EUR",),
    "£": ("GBP", "EGP", "LBP", "SYP", "GIP", "FKP", "SHP", "SDG", "SSP"),
    "$": ("USD", "AUD", "CAD", "NZD", "HKD", "SGD", "MXN", "ARS", "CLP", "COP", "TWD", "BSD", "BBD", "BMD", "BND", "BZD", "FJD",
          "GYD", "JMD", "KYD", "LRD", "NAD", "SBD", "SRD", "TTD", "UYU", "XCD"),
    "¥": ("JPY", "CNY"),
    "₹": ("INR",),
    "₽": ("RUB",),
    "₩": ("KRW", "KPW"),
    "₺": ("TRY",),
    "₪": ("ILS",),
    "₫": ("VND",),
    "₴": ("UAH",),
    "₦": ("NGN",),
    "₱": ("PHP",),
    "฿": ("THB",),
    "zł": ("PLN",),
    "Kč": ("CZK",),
    "Ft": ("HUF",),
    "lei": ("RON", "MDL"),
    "Fr.": ("CHF",),
    "SFr.": ("CHF",),
    "kr": ("SEK", "NOK", "DKK", "ISK"),
    "kr.": ("DKK", "SEK", "NOK", "ISK"),
}  # fmt: skip


def currency_of(text: str, own: str = "") -> str | None:
    """The code that a code or a sign stands for in a ledger of currency `own`; None for what is neither."""
    bare = text.strip()
    if bare.upper() in CODES:
        return bare.upper()
    meant = SIGNS.get(bare)
    return None if meant is None else own if own in meant else meant[0]
