/** A text that a spreadsheet would run as a formula gets an apostrophe before it; figures keep their sign. OWASP, “CSV Injection”. */
export const harmless = (text: string): string => (/^[=+\-@\t\r]/.test(text) && !/^[+-]?[\d.,]+$/.test(text) ? `'${text}` : text);
