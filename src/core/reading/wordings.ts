import type { FieldDefinition } from './kind';

/**
 * How values are called on paper. Trade terms and their usual abbreviations in English, German, French, Spanish, Italian and
 * Dutch; common practice, no source. A concept is what a field means; its wordings are what papers print for it.
 */
export const CONCEPTS = {
  'document number': ['invoice no', 'invoice number', 'invoice #', 'invoice id', 'invoice', 'bill no', 'bill number', 'inv no', 'inv #', 'document no', 'document number', 'doc no', 'our invoice', 'rechnungsnummer', 'rechnung nr', 'rechnungs-nr', 'belegnummer', 'numéro de facture', 'facture n°', 'facture no', 'n° facture', 'número de factura', 'factura n°', 'numero fattura', 'fattura n', 'factuurnummer', 'factuur nr', 'credit note no', 'voucher no'],
  'document date': ['date', 'invoice date', 'date of invoice', 'bill date', 'issue date', 'date of issue', 'issued', 'issued on', 'dated', 'document date', 'tax point', 'tax point date', 'tax date', 'invoiced on', 'rechnungsdatum', 'datum', 'belegdatum', 'date de facture', 'date de facturation', 'date d’émission', 'fecha', 'fecha de factura', 'fecha de emisión', 'data', 'data fattura', 'factuurdatum'],
  'due date': ['due date', 'date due', 'payment due', 'payment due date', 'due', 'due by', 'due on', 'pay by', 'please pay by', 'payable by', 'payable until', 'payment date', 'fällig am', 'fälligkeit', 'fälligkeitsdatum', 'zahlbar bis', 'zahlungsziel', 'échéance', 'date d’échéance', 'à payer avant', 'vencimiento', 'fecha de vencimiento', 'scadenza', 'vervaldatum', 'te betalen voor'],
  'delivery date': ['delivery date', 'date of delivery', 'delivered', 'delivered on', 'deliver by', 'required by', 'date required', 'wanted by', 'needed by', 'ship date', 'shipping date', 'shipped', 'despatched', 'despatch date', 'dispatch date', 'date of despatch', 'lieferdatum', 'liefertermin', 'date de livraison', 'fecha de entrega', 'data consegna', 'leverdatum'],
  'order date': ['order date', 'date of order', 'ordered on', 'po date', 'bestelldatum', 'auftragsdatum', 'date de commande', 'fecha de pedido', 'besteldatum'],
  'order number': ['order no', 'order number', 'order #', 'order ref', 'order reference', 'your order', 'your order no', 'customer order', 'purchase order', 'purchase order no', 'purchase order number', 'po', 'po no', 'po number', 'po #', 'p.o', 'p.o. no', 'p.o. number', 'p.o. #', 'your ref', 'your reference', 'customer reference', 'our order', 'order', 'bestellnummer', 'bestell-nr', 'ihre bestellung', 'auftragsnummer', 'auftrag nr', 'n° de commande', 'numéro de commande', 'commande', 'número de pedido', 'pedido', 'numero ordine', 'ordine n', 'ordernummer', 'bestelnummer'],
  'customer number': ['customer no', 'customer number', 'customer id', 'customer ref', 'customer #', 'client no', 'client number', 'client id', 'account no', 'account number', 'account', 'acct no', 'a/c no', 'a/c', 'your account', 'customer account', 'cust no', 'kundennummer', 'kunden-nr', 'numéro client', 'n° client', 'client n°', 'número de cliente', 'codice cliente', 'klantnummer'],
  'supplier number': ['supplier no', 'supplier number', 'supplier code', 'supplier id', 'vendor no', 'vendor number', 'vendor id', 'vendor code', 'lieferantennummer', 'n° fournisseur', 'leveranciersnummer'],
  'delivery number': ['delivery note no', 'delivery note number', 'delivery note', 'delivery no', 'delivery number', 'note no', 'note number', 'despatch no', 'despatch note no', 'dispatch no', 'docket no', 'docket number', 'packing slip no', 'packing list no', 'shipment no', 'consignment no', 'lieferscheinnummer', 'lieferschein nr', 'bon de livraison n°', 'albarán', 'pakbonnummer'],
  'ticket number': ['ticket no', 'ticket number', 'ticket', 'weighbridge ticket', 'slip no', 'slip number', 'receipt no', 'receipt number', 'receipt #', 'serial no', 'transaction no'],
  'certificate number': ['certificate no', 'certificate number', 'certificate', 'report no', 'report number', 'report ref', 'analysis no', 'test report no', 'cert. no', 'lab ref', 'laboratory reference', 'laboratory no'],
  'sample number': ['sample no', 'sample number', 'sample id', 'sample', 'sample ref', 'sample reference'],
  'net total': ['subtotal', 'sub-total', 'sub total', 'net', 'net total', 'net amount', 'total net', 'total excl vat', 'total excl. vat', 'total ex vat', 'amount excl vat', 'amount excl. vat', 'goods total', 'total before tax', 'total of services', 'taxable amount', 'net value', 'goods', 'summe netto', 'nettobetrag', 'netto', 'zwischensumme', 'gesamt netto', 'total ht', 'montant ht', 'sous-total', 'base imponible', 'subtotale', 'imponibile', 'subtotaal', 'totaal excl btw', 'totaal excl. btw'],
  'tax total': ['vat', 'tax', 'vat amount', 'tax amount', 'sales tax', 'total vat', 'total tax', 'plus vat', 'gst', 'mwst', 'ust', 'mehrwertsteuer', 'umsatzsteuer', 'zzgl. mwst', 'tva', 'montant tva', 'iva', 'imposta', 'btw', 'btw bedrag'],
  'grand total': ['total', 'total due', 'amount due', 'grand total', 'invoice total', 'bill total', 'total amount', 'total payable', 'amount payable', 'payable', 'balance due', 'total to pay', 'to pay', 'please pay', 'total incl vat', 'total incl. vat', 'total including vat', 'total inc vat', 'amount to pay', 'gross total', 'gross amount', 'order total', 'total order value', 'amount', 'gesamtbetrag', 'rechnungsbetrag', 'gesamtsumme', 'gesamt', 'endbetrag', 'zu zahlen', 'zahlbetrag', 'bruttobetrag', 'summe brutto', 'total ttc', 'montant ttc', 'net à payer', 'à payer', 'importe total', 'total a pagar', 'totale', 'totale fattura', 'totale da pagare', 'totaal', 'te betalen', 'totaal incl btw', 'totaal incl. btw'],
  discount: ['discount', 'less discount', 'early-payment discount', 'settlement discount', 'rebate', 'allowance', 'trade discount', 'rabatt', 'skonto', 'remise', 'descuento', 'sconto', 'korting'],
  shipping: ['shipping', 'freight', 'carriage', 'delivery', 'delivery charge', 'postage', 'postage and packing', 'shipping and handling', 'transport', 'versand', 'versandkosten', 'fracht', 'frais de port', 'livraison', 'portes', 'spedizione', 'verzendkosten'],
  'fuel charge': ['fuel supplement', 'fuel surcharge', 'diesel supplement', 'energy surcharge'],
  'waiting charge': ['waiting time', 'standing time', 'demurrage', 'waiting charge'],
  'paid amount': ['paid', 'amount paid', 'amount tendered', 'cash tendered', 'tendered', 'payment received', 'less paid', 'deposit', 'gegeben'],
  change: ['change', 'change due', 'rückgeld'],
  'opening balance': ['opening balance', 'balance brought forward', 'previous balance', 'brought forward', 'balance b/f', 'old balance', 'starting balance', 'balance at start', 'anfangssaldo', 'alter saldo', 'solde précédent', 'saldo anterior', 'beginsaldo'],
  'closing balance': ['closing balance', 'balance carried forward', 'new balance', 'balance due', 'amount outstanding', 'balance c/f', 'ending balance', 'current balance', 'balance at end', 'account balance', 'total outstanding', 'endsaldo', 'neuer saldo', 'nouveau solde', 'saldo nuevo', 'eindsaldo'],
  'statement date': ['statement date', 'date of statement', 'closing date', 'as at', 'as of', 'date', 'period end', 'end of period'],
  'account number': ['account no', 'account number', 'account', 'a/c no', 'a/c', 'acct no', 'customer account', 'your account', 'kontonummer', 'konto', 'n° de compte', 'compte', 'número de cuenta', 'rekeningnummer', 'customer no', 'customer number'],
  'meter number': ['meter no', 'meter number', 'meter', 'meter id', 'meter serial'],
  'bank account': ['iban', 'iban no', 'bank account', 'account iban'],
  'bank code': ['bic', 'swift', 'swift code', 'bic/swift', 'sort code'],
  'tax number': ['vat no', 'vat number', 'vat reg', 'vat reg no', 'vat registration', 'vat id', 'tax id', 'tax no', 'tax number', 'tin', 'ust-idnr', 'ust-id', 'steuernummer', 'n° tva', 'nif', 'cif', 'partita iva', 'p. iva', 'btw nr', 'btw-nummer'],
  'supplier name': ['supplier', 'vendor', 'seller', 'from', 'issued by', 'issuer', 'sold by', 'lieferant', 'verkäufer', 'fournisseur', 'vendeur', 'proveedor', 'fornitore', 'leverancier'],
  'customer name': ['customer', 'bill to', 'billed to', 'invoice to', 'sold to', 'client', 'to', 'buyer', 'ship to', 'deliver to', 'delivered to', 'delivery address', 'consignee', 'kunde', 'rechnung an', 'client', 'facturé à', 'destinataire', 'cliente', 'klant'],
  carrier: ['carrier', 'carried by', 'delivered by', 'haulier', 'shipped via', 'ship via', 'forwarder', 'transporteur', 'spediteur', 'frachtführer', 'vervoerder'],
  currency: ['currency', 'währung', 'devise', 'moneda', 'valuta'],
  'payment terms': ['terms', 'payment terms', 'terms of payment', 'zahlungsbedingungen', 'conditions de paiement'],
  contact: ['contact', 'contact person', 'attn', 'attention', 'ansprechpartner', 'sales person', 'salesperson', 'handled by', 'our contact'],
  phone: ['phone', 'tel', 'telephone', 'phone no', 'mobile', 'telefon', 'téléphone', 'teléfono'],
  email: ['email', 'e-mail', 'mail'],
  vehicle: ['vehicle', 'vehicle no', 'vehicle reg', 'registration', 'reg no', 'truck', 'lorry', 'licence plate', 'plate', 'kennzeichen'],
  'gross weight': ['gross', 'gross weight', 'gross wt', 'brutto', 'first weight', 'weight in', 'gross kg'],
  'tare weight': ['tare', 'tare weight', 'tare wt', 'tara', 'second weight', 'weight out', 'tare kg'],
  'net weight': ['net', 'net weight', 'net wt', 'nett', 'nett weight', 'netto', 'net kg'],
  note: ['note', 'notes', 'remark', 'remarks', 'comment', 'comments', 'bemerkung', 'observations'],
  quantity: ['qty', 'quantity', 'qty.', 'units', 'no', 'pieces', 'pcs', 'count', 'ordered', 'delivered', 'shipped', 'hours', 'menge', 'anzahl', 'stück', 'stk', 'quantité', 'qté', 'cantidad', 'cant', 'quantità', 'qtà', 'aantal'],
  'unit of measure': ['unit', 'uom', 'u/m', 'per', 'um', 'measure', 'einheit', 'einh', 'me', 'unité', 'unidad', 'unità', 'eenheid', 'kind'],
  description: ['description', 'item', 'details', 'article', 'goods', 'product', 'particulars', 'item description', 'description of goods', 'service', 'services', 'text', 'transaction', 'reference', 'name', 'designation', 'trip and load', 'material', 'bezeichnung', 'beschreibung', 'artikel', 'artikelbezeichnung', 'leistung', 'désignation', 'libellé', 'descripción', 'concepto', 'descrizione', 'omschrijving'],
  'item code': ['item no', 'item number', 'code', 'article no', 'article number', 'part no', 'part number', 'sku', 'ref', 'product code', 'stock code', 'item code', 'cat no', 'art.-nr', 'art. nr', 'artikelnummer', 'artikel-nr', 'référence', 'réf', 'código', 'codice', 'artikelnr'],
  position: ['pos', 'line', 'no', '#', 'item', 'position'],
  'unit price': ['unit price', 'price', 'rate', 'price each', 'unit cost', 'each', 'price per unit', 'unit rate', 'cost', 'einzelpreis', 'e-preis', 'preis', 'stückpreis', 'prix unitaire', 'pu', 'prix', 'pu ht', 'precio', 'precio unitario', 'prezzo', 'prezzo unitario', 'prijs', 'stuksprijs'],
  'line amount': ['amount', 'total', 'line total', 'net', 'value', 'sum', 'net amount', 'line amount', 'total price', 'extended', 'ext. price', 'gross', 'betrag', 'gesamtpreis', 'gesamt', 'g-preis', 'summe', 'montant', 'montant ht', 'total ht', 'importe', 'importo', 'totale', 'bedrag', 'totaal'],
  'entry date': ['date', 'posted', 'day', 'value date', 'posting date', 'booking date', 'datum', 'buchungstag', 'fecha', 'data'],
  'entry amount': ['amount', 'debit/credit', 'movement', 'value', 'charges', 'betrag', 'umsatz', 'montant', 'importe', 'bedrag'],
  'running balance': ['balance', 'running balance', 'balance after', 'saldo', 'solde'],
  debit: ['debit', 'debits', 'charge', 'charges', 'withdrawal', 'withdrawals', 'paid out', 'money out', 'soll', 'débit', 'debe'],
  credit: ['credit', 'credits', 'payment', 'payments', 'deposit', 'deposits', 'paid in', 'money in', 'haben', 'crédit', 'haber'],
  parameter: ['parameter', 'test', 'analysis', 'determinand', 'analyte', 'substance', 'property', 'measurement', 'determination'],
  result: ['result', 'results', 'value', 'found', 'measured', 'reading', 'concentration', 'ergebnis', 'messwert', 'résultat'],
  limit: ['limit', 'limits', 'max', 'maximum', 'limit value', 'permitted', 'specification', 'spec', 'grenzwert', 'limite'],
  method: ['method', 'test method', 'procedure', 'standard', 'verfahren'],
} as const satisfies Record<string, readonly string[]>;

export type Concept = keyof typeof CONCEPTS;
export const CONCEPT_NAMES = Object.keys(CONCEPTS) as Concept[];

/** Lines that carry a sum from page to page. */
export const CARRIED = ['carried forward', 'brought forward', 'carried over', 'running sum', 'running total', 'page total', 'subtotal carried forward', 'total carried forward', 'continued', 'continued overleaf', 'continued on next page', 'balance c/f', 'balance b/f', 'übertrag', 'zwischensumme übertrag', 'à reporter', 'report', 'suma y sigue', 'riporto', 'transport'] as const;
/** Words that stand for each other in labels; each list is one meaning. */
const ALIKE: readonly (readonly string[])[] = [
  ['number', 'no', 'no.', 'nr', '#', 'num', 'ref', 'id', 'reference'],
  ['invoice', 'bill'],
  ['date', 'dated'],
  ['amount', 'total', 'sum'],
  ['customer', 'client', 'account'],
  ['supplier', 'vendor', 'seller'],
  ['delivery', 'despatch', 'dispatch', 'shipping'],
  ['order', 'po', 'purchase order'],
  ['quantity', 'qty'],
  ['weight', 'wt'],
  ['registration', 'reg'],
  ['certificate', 'cert', 'report'],
  ['telephone', 'tel', 'phone'],
  ['birth', 'birth date'],
];

const IGNORED = new Set(['the', 'of', 'our', 'your', 'a', 'an', 'and']);

const plain = (text: string): string => text.toLowerCase().replace(/[_/]+/g, ' ').replace(/[:.]+$/, '').replace(/\s+/g, ' ').trim();

/** The label with each of its words replaced by words that stand for the same. */
function expanded(label: string): string[] {
  const words = plain(label).split(' ').slice(0, 6);
  let texts = [''];
  for (const word of words) {
    const alike = ALIKE.find((list) => list.includes(word)) ?? [word];
    texts = texts.flatMap((text) => [word, ...alike.filter((other) => other !== word)].map((other) => `${text} ${other}`.trim())).slice(0, 60);
  }
  return texts;
}

/** Wordings for one field, the most telling first, and what it means if that is known. */
export interface FieldWordings {
  readonly concept: Concept | null;
  readonly wordings: readonly string[];
}

/** Meanings that only make sense in a row of a table, or only outside of one. */
const ROW_CONCEPTS: ReadonlySet<Concept> = new Set<Concept>(['quantity', 'unit of measure', 'description', 'item code', 'position', 'unit price', 'line amount', 'entry date', 'entry amount', 'running balance', 'debit', 'credit', 'parameter', 'result', 'limit', 'method']);
/** What rows may hold though a kind does not ask for it; a heading that says it clearly is not given to another column. */
export const HEADING_CONCEPTS: readonly Concept[] = ['quantity', 'unit of measure', 'description', 'item code', 'unit price', 'line amount', 'tax total', 'discount', 'position', 'running balance'];
const TYPES_OF: Partial<Record<Concept, readonly FieldDefinition['type'][]>> = {
  'document date': ['date', 'text'], 'due date': ['date', 'text'], 'delivery date': ['date', 'text'], 'order date': ['date', 'text'], 'statement date': ['date', 'text'], 'entry date': ['date', 'text'],
  'net total': ['money', 'number'], 'tax total': ['money', 'number'], 'grand total': ['money', 'number'], 'line amount': ['money', 'number'], 'entry amount': ['money', 'number'], 'unit price': ['money', 'number'], quantity: ['number', 'text'],
  'supplier name': ['text'], 'customer name': ['text'], carrier: ['text', 'choice'],
};

const memory = new WeakMap<FieldDefinition, Map<string, FieldWordings>>();

/** How a field is probably called on paper: its own label and synonyms, its key, and the wordings of what it means. */
export function wordingsOf(field: FieldDefinition, where: 'field' | 'column', kindName = ''): FieldWordings {
  const known = memory.get(field) ?? new Map<string, FieldWordings>();
  memory.set(field, known);
  const name = `${where}/${kindName}`;
  const found = known.get(name) ?? findWordings(field, where, kindName);
  known.set(name, found);
  return found;
}

function findWordings(field: FieldDefinition, where: 'field' | 'column', kindName: string): FieldWordings {
  const own = [field.label, ...(field.synonyms ?? []), ...quotedIn(field.description)];
  const concept = conceptOf(field, where, kindName);
  const general = where === 'field' && concept ? generalFor(concept, field, kindName) : [];
  const wordings = [...own.map(plain), plain(field.key), ...own.flatMap(expanded), ...expanded(field.key), ...(concept ? CONCEPTS[concept] : []), ...general].filter((text) => text.length > 1 || text === '#');
  return { concept, wordings: [...new Set(wordings)] };
}

/** Papers of every kind call their own number and date by these too. */
const OWN_NUMBER = ['document no', 'document number', 'our reference', 'our ref', 'reference no', 'number', 'no', 'nr', 'ref', 'reference'] as const;
const OWN_NUMBERS: ReadonlySet<Concept> = new Set<Concept>(['document number', 'delivery number', 'ticket number', 'certificate number', 'order number']);
const OWN_DATES: ReadonlySet<Concept> = new Set<Concept>(['delivery date', 'order date', 'statement date']);

/** The number and the date of the paper itself, not those of another paper that it mentions. */
function generalFor(concept: Concept, field: FieldDefinition, kindName: string): readonly string[] {
  const own = kindBonus(concept, kindName) > 0 || /^(?:number|no|date|id|reference|ref)$/.test(field.key);
  if (!own) return [];
  if (OWN_NUMBERS.has(concept)) return OWN_NUMBER;
  return OWN_DATES.has(concept) ? CONCEPTS['document date'] : [];
}

/** Wordings that a description quotes: Printed as “Total due”. */
const quotedIn = (description: string | undefined): string[] => [...(description ?? '').matchAll(/[“"‘']([^”"’']{2,40})[”"’']/g)].map((match) => match[1] ?? '');

/** The meaning whose wordings are most like the field's label, key and description. */
function conceptOf(field: FieldDefinition, where: 'field' | 'column', kindName: string): Concept | null {
  const texts = [plain(field.label), plain(field.key)];
  const described = ` ${plain(field.description ?? '').replace(/[^a-zà-ÿ#/ ]/g, ' ')} `;
  let best: { concept: Concept; score: number } | null = null;
  for (const concept of CONCEPT_NAMES) {
    if (ROW_CONCEPTS.has(concept) !== (where === 'column')) continue;
    if (TYPES_OF[concept] && !TYPES_OF[concept]?.includes(field.type)) continue;
    const score = conceptScore(concept, texts, described) + kindBonus(concept, kindName);
    if (score > (best?.score ?? 0.55)) best = { concept, score };
  }
  return best?.concept ?? null;
}

function conceptScore(concept: Concept, texts: readonly string[], described: string): number {
  const names: readonly string[] = [concept, ...CONCEPTS[concept]];
  const exact = texts.some((text) => names.includes(text)) ? 1 : 0;
  const words = new Set(texts.flatMap((text) => text.split(' ')).filter((word) => !IGNORED.has(word)));
  const shared = (name: string): number => {
    const parts = name.split(' ').map(head);
    const own = new Set([...words].map(head));
    return parts.filter((part) => own.has(part)).length / Math.max(parts.length, own.size);
  };
  const alike = Math.max(...names.map(shared));
  // The longer the wording that stands in the description, the more it says.
  const told = Math.max(0, ...names.filter((name) => name.length > 4 && described.includes(` ${name} `)).map((name) => Math.min(1, name.length / 16)));
  return Math.max(exact, 0.9 * alike) + 0.2 * told;
}

/** Words that stand for the same compare as the first of them. */
const head = (word: string): string => ALIKE.find((list) => list.includes(word))?.[0] ?? word;

/** "Number" on a delivery note is the number of the note. */
function kindBonus(concept: Concept, kindName: string): number {
  const kind = kindName.toLowerCase();
  if (concept === 'delivery number' && /deliver|despatch|dispatch|packing/.test(kind)) return 0.15;
  if (concept === 'ticket number' && /ticket|slip|receipt|weigh/.test(kind)) return 0.15;
  if (concept === 'certificate number' && /certif|report|analysis/.test(kind)) return 0.15;
  if (concept === 'order number' && /order/.test(kind)) return 0.12;
  if (concept === 'order date' && /order/.test(kind)) return 0.1;
  if (concept === 'delivery date' && /deliver|despatch|dispatch|packing/.test(kind)) return 0.1;
  if (concept === 'account number' && /statement|account/.test(kind)) return 0.1;
  if (concept === 'document number' && /invoice|bill|credit/.test(kind)) return 0.1;
  if (concept === 'entry amount' && /statement|account/.test(kind)) return 0.1;
  if (concept === 'statement date' && /statement/.test(kind)) return 0.05;
  return 0;
}
