/** What is wrong with the fields of a ledger, each told at its field before anything is sent. */
export interface LedgerFields {
  name: string;
  currency: string;
  zone: string;
}

function isZone(zone: string): boolean {
  try {
    return !!new Intl.DateTimeFormat("en", { timeZone: zone });
  } catch {
    return false;
  }
}

/** By field, what to do about it; "" where nothing is wrong. */
export function fieldTroubles({ name, currency, zone }: LedgerFields): LedgerFields {
  return {
    name: name.trim() ? "" : "A ledger needs a name.",
    currency: /^[A-Za-z]{3}$/.test(currency.trim()) ? "" : "Three letters: EUR, USD, CHF.",
    zone: isZone(zone.trim()) ? "" : "Not a time zone: write it like Europe/Zurich or UTC.",
  };
}
