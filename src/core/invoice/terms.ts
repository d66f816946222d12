/** Business terms of the European standard for e-invoices (EN 16931-1:2017) that are read, with their names. */
export const TERMS = {
  'BT-1': 'Invoice number', 'BT-2': 'Invoice issue date', 'BT-3': 'Invoice type code', 'BT-5': 'Invoice currency code', 'BT-9': 'Payment due date', 'BT-10': 'Buyer reference', 'BT-13': 'Purchase order reference',
  'BT-20': 'Payment terms', 'BT-22': 'Invoice note', 'BT-27': 'Seller name', 'BT-31': 'Seller VAT identifier', 'BT-44': 'Buyer name', 'BT-46': 'Buyer identifier', 'BT-48': 'Buyer VAT identifier',
  'BT-72': 'Actual delivery date', 'BT-83': 'Remittance information', 'BT-84': 'Payment account identifier', 'BT-86': 'Payment service provider identifier',
  'BT-106': 'Sum of invoice line net amount', 'BT-107': 'Sum of allowances on document level', 'BT-108': 'Sum of charges on document level', 'BT-109': 'Invoice total amount without VAT',
  'BT-110': 'Invoice total VAT amount', 'BT-112': 'Invoice total amount with VAT', 'BT-113': 'Paid amount', 'BT-115': 'Amount due for payment',
} as const;

export const LINE_TERMS = {
  'BT-126': 'Invoice line identifier', 'BT-155': 'Item seller’s identifier', 'BT-153': 'Item name', 'BT-129': 'Invoiced quantity', 'BT-130': 'Unit of measure code', 'BT-146': 'Item net price', 'BT-131': 'Invoice line net amount', 'BT-152': 'Item VAT rate',
} as const;

export type Term = keyof typeof TERMS;
export type LineTerm = keyof typeof LINE_TERMS;

/** An e-invoice as terms and their values, as given (dates ISO 8601, decimals plain). */
export interface Invoice {
  readonly syntax: 'UBL 2.1' | 'CII D16B';
  readonly terms: Readonly<Partial<Record<Term, string>>>;
  readonly lines: readonly Readonly<Partial<Record<LineTerm, string>>>[];
}
