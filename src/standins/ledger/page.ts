import type { Records } from './books';

const escape = (value: unknown): string => String(value ?? '').replace(/[&<>"]/g, (letter) => `&#${letter.charCodeAt(0)};`);

function table(title: string, heads: readonly string[], rows: readonly (readonly unknown[])[]): string {
  return `<h2>${escape(title)} (${rows.length})</h2><table><tr>${heads.map((head) => `<th>${escape(head)}</th>`).join('')}</tr>${rows.map((row) => `<tr>${row.map((cell) => `<td>${escape(cell)}</td>`).join('')}</tr>`).join('')}</table>`;
}

/** A plain page to look at the records of the stand-in. */
export function plainPage({ bills, receipts, orders, vendors, heard }: Records): string {
  return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Harbour Ledger</title><style>body{font:15px/1.5 Georgia,serif;margin:2rem auto;max-width:60rem;color:#222}table{border-collapse:collapse;width:100%}td,th{border-bottom:1px solid #ccc;padding:.3rem .6rem;text-align:left}</style><h1>Harbour Ledger</h1><p>A simulated business application of the Skarrow Quay Co-operative.</p>${[
    table('Bills', ['Id', 'Vendor', 'Number', 'Date', 'Total', 'Note', 'Attachments'], bills.map((bill) => [bill.id, bill.vendor, bill.number, bill.date, bill.total, bill.note, bill.attachments.map(({ name }) => name).join(', ')])),
    table('Receipts', ['Id', 'Supplier', 'Delivery note', 'Orders', 'Lines'], receipts.map((receipt) => [receipt.id, receipt.supplier, receipt.note, [...new Set(receipt.lines.map(({ order }) => order))].join(', '), receipt.lines.length])),
    table('Orders', ['Id', 'Supplier', 'Lines'], orders.map((order) => [order.id, order.supplier, order.lines.length])),
    table('Heard of', ['Event', 'What', 'Of', 'Times'], heard.slice(-50).reverse().map((one) => [one.id, one.type, one.subject, one.times])),
    table('Vendors', ['Id', 'Name', 'Account'], vendors.map((vendor) => [vendor.id, vendor.name, vendor.account])),
  ].join('')}</html>`;
}
