/** Keeps formatters by locale and style: making one costs a hundred times its use. */
function once<Style, Format>(make: (locale: string, style: Style) => Format): (locale: string, style: Style) => Format {
  const made = new Map<string, Format>();
  return (locale, style) => {
    const key = `${locale} ${JSON.stringify(style)}`;
    const format = made.get(key) ?? make(locale, style);
    made.set(key, format);
    return format;
  };
}

/** Date and time format of a locale (BCP 47). */
export const dateFormat = once((locale, style: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(locale, style));

/** Number and currency format of a locale (BCP 47). */
export const numberFormat = once((locale, style: Intl.NumberFormatOptions) => new Intl.NumberFormat(locale, style));

/** A day, written out: "20 May 2027". */
export const LONG_DATE = { day: 'numeric', month: 'long', year: 'numeric', timeZone: 'UTC' } as const;
