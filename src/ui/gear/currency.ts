const KEY = "nerrit-currency";

/** The currency of the last price that was typed in this browser. */
export function usualCurrency(): string {
  try {
    return localStorage.getItem(KEY) ?? "EUR";
  } catch {
    return "EUR";
  }
}

/** Remembers a currency for the next price. */
export function rememberCurrency(currency: string): void {
  try {
    localStorage.setItem(KEY, currency.toUpperCase());
  } catch {
    // Storage may be switched off; the next price is asked in full.
  }
}
