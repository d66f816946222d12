/** What the stand-in offers, for those who read it by program. OpenAPI 3.1. */
const text = { type: 'string' } as const;
const keyed = [{ name: 'Idempotency-Key', in: 'header', schema: text }];
const list = (summary: string) => ({ get: { summary, responses: { 200: { description: 'The records' } } } });
const body = (properties: Record<string, unknown>, required: readonly string[]) => ({ required: true, content: { 'application/json': { schema: { type: 'object', properties, required } } } });

export const OPENAPI = {
  openapi: '3.1.0',
  info: { title: 'Harbour Ledger', version: '1' },
  components: { securitySchemes: { key: { type: 'http', scheme: 'bearer' } } },
  security: [{ key: [] }],
  paths: {
    '/v1/vendors': list('Vendors'),
    '/v1/orders': list('Orders, with what is still open of each line'),
    '/v1/receipts': { ...list('Receipts'), post: { summary: 'Enter a receipt', operationId: 'addReceipt', parameters: keyed, requestBody: body({ supplier: text, note: text, date: text, lines: { type: 'array' } }, ['lines']), responses: { 201: { description: 'Entered' } } } },
    '/v1/bills': { ...list('Bills'), post: { summary: 'Enter a bill', operationId: 'addBill', parameters: keyed, requestBody: body({ vendor: text, number: text, date: text, total: text, note: text, lines: { type: 'array' } }, ['vendor', 'number', 'total']), responses: { 201: { description: 'Entered' } } } },
    '/v1/bills/{id}/attachments': { post: { summary: 'Attach a file to a bill', operationId: 'attach', parameters: [{ name: 'id', in: 'path', required: true, schema: text }, { name: 'name', in: 'query', schema: text }, ...keyed], responses: { 201: { description: 'Attached' } } } },
  },
} as const;
