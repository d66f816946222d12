import { XMLParser } from 'fast-xml-parser';
import type { Invoice, LineTerm, Term } from './terms';

/** Where each term stands, element by element, as the syntax bindings say (EN 16931-3-2 for UBL, EN 16931-3-3 for CII). */
const UBL: Readonly<Record<Term, string>> = {
  'BT-1': 'ID', 'BT-2': 'IssueDate', 'BT-3': 'InvoiceTypeCode|CreditNoteTypeCode', 'BT-5': 'DocumentCurrencyCode', 'BT-9': 'DueDate|PaymentMeans/PaymentDueDate', 'BT-10': 'BuyerReference', 'BT-13': 'OrderReference/ID',
  'BT-20': 'PaymentTerms/Note', 'BT-22': 'Note', 'BT-27': 'AccountingSupplierParty/Party/PartyLegalEntity/RegistrationName|AccountingSupplierParty/Party/PartyName/Name', 'BT-31': 'AccountingSupplierParty/Party/PartyTaxScheme/CompanyID',
  'BT-44': 'AccountingCustomerParty/Party/PartyLegalEntity/RegistrationName|AccountingCustomerParty/Party/PartyName/Name', 'BT-46': 'AccountingCustomerParty/Party/PartyIdentification/ID', 'BT-48': 'AccountingCustomerParty/Party/PartyTaxScheme/CompanyID',
  'BT-72': 'Delivery/ActualDeliveryDate', 'BT-83': 'PaymentMeans/PaymentID', 'BT-84': 'PaymentMeans/PayeeFinancialAccount/ID', 'BT-86': 'PaymentMeans/PayeeFinancialAccount/FinancialInstitutionBranch/ID',
  'BT-106': 'LegalMonetaryTotal/LineExtensionAmount', 'BT-107': 'LegalMonetaryTotal/AllowanceTotalAmount', 'BT-108': 'LegalMonetaryTotal/ChargeTotalAmount', 'BT-109': 'LegalMonetaryTotal/TaxExclusiveAmount',
  'BT-110': 'TaxTotal/TaxAmount', 'BT-112': 'LegalMonetaryTotal/TaxInclusiveAmount', 'BT-113': 'LegalMonetaryTotal/PrepaidAmount', 'BT-115': 'LegalMonetaryTotal/PayableAmount',
};
const UBL_LINE: Readonly<Record<LineTerm, string>> = {
  'BT-126': 'ID', 'BT-155': 'Item/SellersItemIdentification/ID', 'BT-153': 'Item/Name', 'BT-129': 'InvoicedQuantity|CreditedQuantity', 'BT-130': 'InvoicedQuantity/@unitCode|CreditedQuantity/@unitCode', 'BT-146': 'Price/PriceAmount', 'BT-131': 'LineExtensionAmount', 'BT-152': 'Item/ClassifiedTaxCategory/Percent',
};
const [AGREEMENT, SETTLEMENT, DELIVERY] = ['SupplyChainTradeTransaction/ApplicableHeaderTradeAgreement', 'SupplyChainTradeTransaction/ApplicableHeaderTradeSettlement', 'SupplyChainTradeTransaction/ApplicableHeaderTradeDelivery'];
const SUMS = `${SETTLEMENT}/SpecifiedTradeSettlementHeaderMonetarySummation`;
const CII: Readonly<Record<Term, string>> = {
  'BT-1': 'ExchangedDocument/ID', 'BT-2': 'ExchangedDocument/IssueDateTime/DateTimeString', 'BT-3': 'ExchangedDocument/TypeCode', 'BT-5': `${SETTLEMENT}/InvoiceCurrencyCode`, 'BT-9': `${SETTLEMENT}/SpecifiedTradePaymentTerms/DueDateDateTime/DateTimeString`,
  'BT-10': `${AGREEMENT}/BuyerReference`, 'BT-13': `${AGREEMENT}/BuyerOrderReferencedDocument/IssuerAssignedID`, 'BT-20': `${SETTLEMENT}/SpecifiedTradePaymentTerms/Description`, 'BT-22': 'ExchangedDocument/IncludedNote/Content',
  'BT-27': `${AGREEMENT}/SellerTradeParty/Name`, 'BT-31': `${AGREEMENT}/SellerTradeParty/SpecifiedTaxRegistration/ID`, 'BT-44': `${AGREEMENT}/BuyerTradeParty/Name`, 'BT-46': `${AGREEMENT}/BuyerTradeParty/ID|${AGREEMENT}/BuyerTradeParty/GlobalID`, 'BT-48': `${AGREEMENT}/BuyerTradeParty/SpecifiedTaxRegistration/ID`,
  'BT-72': `${DELIVERY}/ActualDeliverySupplyChainEvent/OccurrenceDateTime/DateTimeString`, 'BT-83': `${SETTLEMENT}/PaymentReference`, 'BT-84': `${SETTLEMENT}/SpecifiedTradeSettlementPaymentMeans/PayeePartyCreditorFinancialAccount/IBANID`, 'BT-86': `${SETTLEMENT}/SpecifiedTradeSettlementPaymentMeans/PayeeSpecifiedCreditorFinancialInstitution/BICID`,
  'BT-106': `${SUMS}/LineTotalAmount`, 'BT-107': `${SUMS}/AllowanceTotalAmount`, 'BT-108': `${SUMS}/ChargeTotalAmount`, 'BT-109': `${SUMS}/TaxBasisTotalAmount`, 'BT-110': `${SUMS}/TaxTotalAmount`, 'BT-112': `${SUMS}/GrandTotalAmount`, 'BT-113': `${SUMS}/TotalPrepaidAmount`, 'BT-115': `${SUMS}/DuePayableAmount`,
};
const CII_LINE: Readonly<Record<LineTerm, string>> = {
  'BT-126': 'AssociatedDocumentLineDocument/LineID', 'BT-155': 'SpecifiedTradeProduct/SellerAssignedID', 'BT-153': 'SpecifiedTradeProduct/Name', 'BT-129': 'SpecifiedLineTradeDelivery/BilledQuantity', 'BT-130': 'SpecifiedLineTradeDelivery/BilledQuantity/@unitCode',
  'BT-146': 'SpecifiedLineTradeAgreement/NetPriceProductTradePrice/ChargeAmount', 'BT-131': 'SpecifiedLineTradeSettlement/SpecifiedTradeSettlementLineMonetarySummation/LineTotalAmount', 'BT-152': 'SpecifiedLineTradeSettlement/ApplicableTradeTax/RateApplicablePercent',
};

/** Lines of a bill that are read; a longer one is a catalogue. */
const MOST_LINES = 5_000;

type Node = unknown;

// Entities of the document's own are not expanded: a few lines of them can stand for gigabytes.
const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '@', removeNSPrefix: true, parseTagValue: false, parseAttributeValue: false, processEntities: false, trimValues: true });

/** An e-invoice from its XML; null when the XML is something else or damaged. */
export function invoiceFrom(xml: string): Invoice | null {
  if (/<!(?:DOCTYPE|ENTITY)/i.test(xml)) return null;
  let tree: Record<string, Node>;
  try {
    tree = parser.parse(xml) as Record<string, Node>;
  } catch {
    return null;
  }
  const ubl = tree['Invoice'] ?? tree['CreditNote'];
  if (ubl) return { syntax: 'UBL 2.1', terms: termsFrom(ubl, UBL), lines: listOf(find(ubl, 'InvoiceLine') ?? find(ubl, 'CreditNoteLine')).slice(0, MOST_LINES).map((line) => termsFrom(line, UBL_LINE)) };
  const cii = tree['CrossIndustryInvoice'];
  if (!cii) return null;
  const lines = listOf(find(find(cii, 'SupplyChainTradeTransaction'), 'IncludedSupplyChainTradeLineItem'));
  return { syntax: 'CII D16B', terms: termsFrom(cii, CII), lines: lines.slice(0, MOST_LINES).map((line) => termsFrom(line, CII_LINE)) };
}

function termsFrom<K extends string>(node: Node, places: Readonly<Record<K, string>>): Partial<Record<K, string>> {
  const found = (Object.entries(places) as [K, string][]).flatMap(([term, paths]): [K, string][] => {
    const value = paths.split('|').map((path) => textAt(node, path.split('/'))).find((text) => text !== null);
    return value === undefined || value === null ? [] : [[term, DATES.has(term) ? isoDate(plain(value)) : plain(value)]];
  });
  return Object.fromEntries(found) as Partial<Record<K, string>>;
}

const find = (node: Node, name: string): Node => (isRecord(node) ? node[name] : undefined);
const listOf = (node: Node): readonly Node[] => (Array.isArray(node) ? node : node === undefined ? [] : [node]);
const isRecord = (node: Node): node is Record<string, Node> => typeof node === 'object' && node !== null && !Array.isArray(node);

/** The text at a path; of repeated elements the first that has one. */
function textAt(node: Node, path: readonly string[]): string | null {
  const [head, ...rest] = path;
  if (Array.isArray(node)) return node.map((each) => textAt(each, path)).find((text) => text !== null) ?? null;
  if (head === undefined) {
    const text = isRecord(node) ? node['#text'] : node;
    return typeof text === 'string' && text.trim() !== '' ? text.trim() : null;
  }
  return isRecord(node) ? textAt(node[head], rest) : null;
}

const ENTITIES: Readonly<Record<string, string>> = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&quot;': '"', '&apos;': "'" };

/** The five entities of XML itself, and characters by number. */
const plain = (text: string): string =>
  text.replace(/&(?:amp|lt|gt|quot|apos);/g, (entity) => ENTITIES[entity] ?? entity).replace(/&#(x?)([0-9a-f]+);/gi, (_, hex: string, code: string) => String.fromCodePoint(Math.min(0x10ffff, parseInt(code, hex ? 16 : 10)))).replace(/\s+/g, ' ');

const DATES: ReadonlySet<string> = new Set<Term>(['BT-2', 'BT-9', 'BT-72']);

/** Dates of CII are `YYYYMMDD` (UN/CEFACT format 102). */
const isoDate = (text: string): string => text.replace(/^(\d{4})(\d{2})(\d{2})$/, '$1-$2-$3');
