/** What we tell others: CloudEvents 1.0 as an independent reader takes it, signed as Standard Webhooks 1.0.0 writes it. */
import { HTTP, type CloudEvent } from 'cloudevents';
import { createHmac } from 'node:crypto';
import http from 'node:http';
import type { AddressInfo } from 'node:net';
import { tellOne } from '@/connectors/webhook/webhook';
import { cloudEventOf, type Notice } from '@/core/telling/notice';

const NOTICE: Notice = { id: '01KA0000000000000000000001', type: 'leadline.run.stranded', runId: '01KA000000000000000000RRRR', pipelineKey: 'haulage-to-ledger', at: '2026-03-12T10:00:00.000Z', data: { document: '01KA000000000000000000DDDD', version: 3, step: 'ledger', failure: { code: 'service-refused', message: 'The service refused: it says no' } } };

/** What a receiver gets, head and body. */
async function received(send: (url: string) => Promise<unknown>): Promise<{ headers: http.IncomingHttpHeaders; body: string }> {
  let got = { headers: {} as http.IncomingHttpHeaders, body: '' };
  const server = http.createServer((request, response) => {
    const parts: Buffer[] = [];
    request.on('data', (part: Buffer) => parts.push(part)).on('end', () => {
      got = { headers: request.headers, body: Buffer.concat(parts).toString('utf8') };
      response.writeHead(204).end();
    });
  }).listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  await send(`http://127.0.0.1:${(server.address() as AddressInfo).port}/hook`);
  server.close();
  return got;
}

// Standard Webhooks 1.0.0, "Signature scheme": HMAC-SHA256 over `id.timestamp.payload` with the secret's bytes, Base64, after "v1,".
// The values of this example are those of the specification, from memory; the HMAC is computed here once more by Node's own crypto.
test('a delivery is signed as Standard Webhooks says', async () => {
  const secret = 'whsec_plJ3nmyCDGBKInavdOK15jsl';
  const [id, payload, at] = ['msg_loFOjxBNrRLzqYUf', '{"event_type":"ping","data":{"success":true}}', new Date(1_731_705_121_000)];
  const { headers, body } = await received((url) => tellOne({ url, secret, id, payload, at }));
  expect(body).toBe(payload);
  expect(headers).toMatchObject({ 'webhook-id': id, 'webhook-timestamp': '1731705121' });
  const expected = createHmac('sha256', Buffer.from('plJ3nmyCDGBKInavdOK15jsl', 'base64')).update(`${id}.1731705121.${payload}`).digest('base64');
  expect(headers['webhook-signature']).toBe(`v1,${expected}`);
  expect(expected).toBe('rAvfW3dJ/X/qxhsaXPOyyCGmRKsaKWcsNccKXlIktD0=');
});

// CloudEvents 1.0.2, HTTP protocol binding 3.2 (structured mode), read by the SDK of the specification's authors.
test('an event is a valid CloudEvent in structured mode', async () => {
  const event = cloudEventOf(NOTICE, 'https://leadline.example');
  const { headers, body } = await received((url) => tellOne({ url, secret: 'whsec_plJ3nmyCDGBKInavdOK15jsl', id: event.id, payload: JSON.stringify(event), at: new Date() }));
  const read = HTTP.toEvent({ headers, body }) as CloudEvent<unknown>;
  expect(read.validate()).toBe(true);
  expect(read).toMatchObject({ id: NOTICE.id, type: NOTICE.type, specversion: '1.0', source: 'https://leadline.example/pipelines/haulage-to-ledger', subject: `runs/${NOTICE.runId}`, data: { failure: NOTICE.data.failure, address: `https://leadline.example/runs/${NOTICE.runId}` } });
});
