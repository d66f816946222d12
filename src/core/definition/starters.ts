import type { FieldDefinition, KindDefinition, TableDefinition } from '@/core/reading/kind';

/** Kinds to begin with: the usual fields of the usual papers, with descriptions from which they are read before any teaching. */

const field = (key: string, label: string, type: FieldDefinition['type'], more: Partial<FieldDefinition> = {}): FieldDefinition => ({ key, label, type, ...more });
const required = { required: true } as const;
const column = { description: field('description', 'Description', 'text'), quantity: field('quantity', 'Quantity', 'number'), unit: field('unit', 'Unit', 'text'), price: field('price', 'Unit price', 'money'), amount: field('amount', 'Amount', 'money') };
const lines = (label: string, columns: readonly FieldDefinition[]): TableDefinition => ({ key: 'lines', label, columns });

const starter = (key: string, name: string, description: string, fields: readonly FieldDefinition[], tables: readonly TableDefinition[], checks: KindDefinition['checks'] = []): KindDefinition => ({ leadline: 'kind/1', key, name, description, fields, tables, layouts: [], checks });

export const STARTERS: readonly KindDefinition[] = [
  starter('bill', 'Bill', 'What a supplier asks for goods or work.', [
    field('supplier', 'Supplier', 'text', { ...required, description: 'Name of the company that sends the bill.' }),
    field('number', 'Bill number', 'identifier', { ...required, description: 'The supplier’s own number of this bill.' }),
    field('date', 'Bill date', 'date', required), field('due_date', 'Due date', 'date'),
    field('order_number', 'Order number', 'identifier', { description: 'The number of our order.' }),
    field('customer_number', 'Customer number', 'identifier', { description: 'The number under which the supplier keeps us.' }),
    field('net', 'Net total', 'money', { description: 'Sum before tax.' }), field('tax', 'Tax', 'money'), field('total', 'Total', 'money', { ...required, description: 'What is to be paid.' }),
  ], [lines('Lines', [column.description, column.quantity, column.unit, column.price, column.amount])], [{ check: 'line-amount', table: 'lines', quantity: 'quantity', price: 'price', amount: 'amount' }]),
  starter('delivery-note', 'Delivery note', 'What came with a delivery.', [
    field('supplier', 'Supplier', 'text', { ...required, description: 'Name of the company that delivers.' }),
    field('number', 'Delivery note number', 'identifier', required), field('date', 'Delivery date', 'date', required),
    field('order_number', 'Order number', 'identifier', { description: 'The number of our order.' }), field('carrier', 'Carrier', 'text', { description: 'Who brought it.' }),
  ], [lines('Goods', [field('code', 'Item number', 'identifier'), column.description, column.quantity, column.unit])]),
  starter('order', 'Order', 'What somebody orders.', [
    field('buyer', 'Buyer', 'text', { ...required, description: 'Name of the company that orders.' }),
    field('number', 'Order number', 'identifier', required), field('date', 'Order date', 'date', required), field('delivery_date', 'Delivery date', 'date', { description: 'When it is wanted.' }),
    field('supplier_number', 'Supplier number', 'identifier'), field('total', 'Total', 'money'),
  ], [lines('Goods', [field('code', 'Item number', 'identifier'), column.description, column.quantity, column.price, column.amount])]),
  starter('receipt', 'Receipt', 'What was paid at a till.', [
    field('merchant', 'Merchant', 'text', required), field('number', 'Receipt number', 'identifier'), field('date', 'Date', 'date', required),
    field('tax', 'Tax', 'money'), field('total', 'Total', 'money', required), field('paid_by', 'Paid by', 'choice', { options: ['cash', 'card'], description: 'Way of payment.' }),
  ], [lines('Lines', [column.description, column.amount])]),
  starter('statement', 'Statement of account', 'What moved on an account.', [
    field('issuer', 'Issuer', 'text', { ...required, description: 'Name of the company that sends it.' }), field('account', 'Account number', 'identifier', required), field('date', 'Statement date', 'date', required),
    field('opening_balance', 'Opening balance', 'money'), field('closing_balance', 'Closing balance', 'money', required),
  ], [lines('Entries', [field('date', 'Date', 'date'), column.description, column.amount, field('balance', 'Balance', 'money')])]),
  starter('certificate', 'Certificate of analysis', 'What a laboratory found.', [
    field('laboratory', 'Laboratory', 'text', required), field('number', 'Certificate number', 'identifier', required), field('sample', 'Sample', 'text'), field('date', 'Date', 'date', required),
  ], [{ key: 'results', label: 'Results', columns: [field('parameter', 'Parameter', 'text'), field('result', 'Result', 'text'), column.unit, field('limit', 'Limit', 'text')] }]),
  starter('application', 'Application form', 'A form that somebody filled in.', [
    field('name', 'Name', 'text', required), field('birth_date', 'Date of birth', 'date'), field('address', 'Address', 'text'), field('email', 'Email', 'text'), field('phone', 'Phone', 'text'),
    field('membership', 'Membership', 'choice', { options: ['full', 'associate', 'junior'] }), field('newsletter', 'Newsletter', 'yes-no'), field('date', 'Date', 'date'),
  ], []),
];

export const starterKind = (key: string): KindDefinition | undefined => STARTERS.find((kind) => kind.key === key);
