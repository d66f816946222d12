import PDFDocument from 'pdfkit';
import type { Truth } from './paper-spec';
import { makePaper } from './content';

const escaped = (text: string): string => text.replace(/&/g, '&amp;').replace(/</g, '&lt;');

interface EBill {
  readonly xml: string;
  readonly truth: Truth;
}

/** The bill of a generated paper as UBL 2.1 or as CII, with the values it carries. */
export function makeEBill(seed: number, syntax: 'UBL' | 'CII'): EBill {
  const { truth } = makePaper('bill', 9, seed);
  const { fields, tables } = truth;
  const lines = (tables['lines'] ?? []).slice(0, 8);
  const value = (key: string): string => escaped(fields[key] ?? '');
  const rows = lines.map((line, index) => ({ id: String(index + 1), name: escaped(line['description'] ?? ''), quantity: line['quantity'] ?? '', price: line['price'] ?? '', amount: line['amount'] ?? '' }));
  const net = rows.reduce((sum, row) => sum + Math.round(Number(row.amount) * 100), 0);
  const tax = Math.round(net * 0.2);
  const sums = { net: (net / 100).toFixed(2), tax: (tax / 100).toFixed(2), total: ((net + tax) / 100).toFixed(2) };
  const all = { ...fields, ...sums, due_date: fields['due_date'] ?? null, order_number: fields['order_number'] ?? null };
  const xml = syntax === 'UBL' ? ubl({ value, rows, sums, all }) : cii({ value, rows, sums, all });
  return {
    xml,
    truth: { fields: { supplier: fields['supplier'] ?? null, number: fields['number'] ?? null, date: fields['date'] ?? null, due_date: all.due_date, order_number: all.order_number, ...sums }, tables: { lines: lines.map((line) => ({ description: line['description'] ?? null, quantity: line['quantity'] ?? null, price: line['price'] ?? null, amount: line['amount'] ?? null })) } },
  };
}

interface Parts {
  readonly value: (key: string) => string;
  readonly rows: readonly { readonly id: string; readonly name: string; readonly quantity: string; readonly price: string; readonly amount: string }[];
  readonly sums: { readonly net: string; readonly tax: string; readonly total: string };
  readonly all: Readonly<Record<string, string | null>>;
}

function ubl({ value, rows, sums, all }: Parts): string {
  const lines = rows.map((row) => `<cac:InvoiceLine><cbc:ID>${row.id}</cbc:ID><cbc:InvoicedQuantity unitCode="C62">${row.quantity}</cbc:InvoicedQuantity><cbc:LineExtensionAmount currencyID="EUR">${row.amount}</cbc:LineExtensionAmount><cac:Item><cbc:Name>${row.name}</cbc:Name></cac:Item><cac:Price><cbc:PriceAmount currencyID="EUR">${row.price}</cbc:PriceAmount></cac:Price></cac:InvoiceLine>`);
  return `<?xml version="1.0" encoding="UTF-8"?>
<Invoice xmlns="urn:oasis:names:specification:ubl:schema:xsd:Invoice-2" xmlns:cac="urn:oasis:names:specification:ubl:schema:xsd:CommonAggregateComponents-2" xmlns:cbc="urn:oasis:names:specification:ubl:schema:xsd:CommonBasicComponents-2">
<cbc:CustomizationID>urn:cen.eu:en16931:2017</cbc:CustomizationID><cbc:ID>${value('number')}</cbc:ID><cbc:IssueDate>${value('date')}</cbc:IssueDate>${all['due_date'] ? `<cbc:DueDate>${all['due_date']}</cbc:DueDate>` : ''}<cbc:InvoiceTypeCode>380</cbc:InvoiceTypeCode><cbc:DocumentCurrencyCode>EUR</cbc:DocumentCurrencyCode>${all['order_number'] ? `<cac:OrderReference><cbc:ID>${all['order_number']}</cbc:ID></cac:OrderReference>` : ''}
<cac:AccountingSupplierParty><cac:Party><cac:PartyLegalEntity><cbc:RegistrationName>${value('supplier')}</cbc:RegistrationName></cac:PartyLegalEntity></cac:Party></cac:AccountingSupplierParty>
<cac:AccountingCustomerParty><cac:Party><cac:PartyLegalEntity><cbc:RegistrationName>Skarrow Quay Co-operative</cbc:RegistrationName></cac:PartyLegalEntity></cac:Party></cac:AccountingCustomerParty>
<cac:TaxTotal><cbc:TaxAmount currencyID="EUR">${sums.tax}</cbc:TaxAmount></cac:TaxTotal>
<cac:LegalMonetaryTotal><cbc:LineExtensionAmount currencyID="EUR">${sums.net}</cbc:LineExtensionAmount><cbc:TaxExclusiveAmount currencyID="EUR">${sums.net}</cbc:TaxExclusiveAmount><cbc:TaxInclusiveAmount currencyID="EUR">${sums.total}</cbc:TaxInclusiveAmount><cbc:PayableAmount currencyID="EUR">${sums.total}</cbc:PayableAmount></cac:LegalMonetaryTotal>
${lines.join('\n')}
</Invoice>
`;
}

function cii({ value, rows, sums, all }: Parts): string {
  const date = (iso: string): string => `<udt:DateTimeString format="102">${iso.replace(/-/g, '')}</udt:DateTimeString>`;
  const lines = rows.map((row) => `<ram:IncludedSupplyChainTradeLineItem><ram:AssociatedDocumentLineDocument><ram:LineID>${row.id}</ram:LineID></ram:AssociatedDocumentLineDocument><ram:SpecifiedTradeProduct><ram:Name>${row.name}</ram:Name></ram:SpecifiedTradeProduct><ram:SpecifiedLineTradeAgreement><ram:NetPriceProductTradePrice><ram:ChargeAmount>${row.price}</ram:ChargeAmount></ram:NetPriceProductTradePrice></ram:SpecifiedLineTradeAgreement><ram:SpecifiedLineTradeDelivery><ram:BilledQuantity unitCode="C62">${row.quantity}</ram:BilledQuantity></ram:SpecifiedLineTradeDelivery><ram:SpecifiedLineTradeSettlement><ram:SpecifiedTradeSettlementLineMonetarySummation><ram:LineTotalAmount>${row.amount}</ram:LineTotalAmount></ram:SpecifiedTradeSettlementLineMonetarySummation></ram:SpecifiedLineTradeSettlement></ram:IncludedSupplyChainTradeLineItem>`);
  return `<?xml version="1.0" encoding="UTF-8"?>
<rsm:CrossIndustryInvoice xmlns:rsm="urn:un:unece:uncefact:data:standard:CrossIndustryInvoice:100" xmlns:ram="urn:un:unece:uncefact:data:standard:ReusableAggregateBusinessInformationEntity:100" xmlns:udt="urn:un:unece:uncefact:data:standard:UnqualifiedDataType:100">
<rsm:ExchangedDocument><ram:ID>${value('number')}</ram:ID><ram:TypeCode>380</ram:TypeCode><ram:IssueDateTime>${date(value('date'))}</ram:IssueDateTime></rsm:ExchangedDocument>
<rsm:SupplyChainTradeTransaction>${lines.join('\n')}
<ram:ApplicableHeaderTradeAgreement><ram:SellerTradeParty><ram:Name>${value('supplier')}</ram:Name></ram:SellerTradeParty><ram:BuyerTradeParty><ram:Name>Skarrow Quay Co-operative</ram:Name></ram:BuyerTradeParty>${all['order_number'] ? `<ram:BuyerOrderReferencedDocument><ram:IssuerAssignedID>${all['order_number']}</ram:IssuerAssignedID></ram:BuyerOrderReferencedDocument>` : ''}</ram:ApplicableHeaderTradeAgreement>
<ram:ApplicableHeaderTradeDelivery/><ram:ApplicableHeaderTradeSettlement><ram:InvoiceCurrencyCode>EUR</ram:InvoiceCurrencyCode>${all['due_date'] ? `<ram:SpecifiedTradePaymentTerms><ram:DueDateDateTime>${date(all['due_date'])}</ram:DueDateDateTime></ram:SpecifiedTradePaymentTerms>` : ''}
<ram:SpecifiedTradeSettlementHeaderMonetarySummation><ram:LineTotalAmount>${sums.net}</ram:LineTotalAmount><ram:TaxBasisTotalAmount>${sums.net}</ram:TaxBasisTotalAmount><ram:TaxTotalAmount currencyID="EUR">${sums.tax}</ram:TaxTotalAmount><ram:GrandTotalAmount>${sums.total}</ram:GrandTotalAmount><ram:DuePayableAmount>${sums.total}</ram:DuePayableAmount></ram:SpecifiedTradeSettlementHeaderMonetarySummation></ram:ApplicableHeaderTradeSettlement></rsm:SupplyChainTradeTransaction>
</rsm:CrossIndustryInvoice>
`;
}

/** A hybrid bill: a page for people with the data attached for programs. */
export function hybridPdf({ xml, truth }: EBill): Promise<Buffer> {
  const pdf = new PDFDocument({ size: 'A4', margin: 50, info: { Title: 'Bill', CreationDate: new Date(0), ModDate: new Date(0) } });
  pdf.file(Buffer.from(xml, 'utf8'), { name: 'factur-x.xml', type: 'text/xml', creationDate: new Date(0), modifiedDate: new Date(0) });
  pdf.fontSize(18).text(truth.fields['supplier'] ?? '').fontSize(11).moveDown().text(`Bill ${truth.fields['number'] ?? ''} of ${truth.fields['date'] ?? ''}`).moveDown().text(`Total ${truth.fields['total'] ?? ''} EUR`);
  const chunks: Buffer[] = [];
  return new Promise((resolve, reject) => {
    pdf.on('data', (chunk: Buffer) => chunks.push(chunk)).on('end', () => resolve(Buffer.concat(chunks))).on('error', reject);
    pdf.end();
  });
}
