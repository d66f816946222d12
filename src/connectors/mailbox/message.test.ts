import { arrivalFrom } from './message';

const mailbox = { uid: 3, folder: 'INBOX' };
const mail = (text: string, bodies?: 'read') => arrivalFrom(Buffer.from(text.replace(/\n/g, '\r\n')), mailbox, bodies);
const part = (head: string, body = 'JVBERi0xLjQ=') => `--b\n${head}\nContent-Transfer-Encoding: base64\n\n${body}\n`;
const multipart = (...parts: string[]) => mail(`From: a@b.example\nMIME-Version: 1.0\nContent-Type: multipart/mixed; boundary=b\n\n${parts.join('')}--b--\n`);

describe(arrivalFrom, () => {
  test('takes attached and inline documents, not the pictures of a signature', async () => {
    const related = `--b\nContent-Type: multipart/related; boundary=r\n\n--r\nContent-Type: text/html\n\n<img src="cid:logo">\n--r\nContent-Type: image/png; name=logo.png\nContent-ID: <logo>\nContent-Disposition: inline\nContent-Transfer-Encoding: base64\n\niVBORw0KGgo=\n--r--\n`;
    const { files } = await multipart(related, part('Content-Type: application/pdf; name=one.pdf\nContent-Disposition: inline'), part('Content-Type: application/pdf\nContent-Disposition: attachment; filename="../two.pdf"'));
    expect(files.map((file) => file.name)).toEqual(['one.pdf', 'two.pdf']);
  });
  test('gives an attachment without a name one', async () => {
    expect((await multipart(part('Content-Type: application/pdf\nContent-Disposition: attachment'))).files[0]?.name).toBe('attachment-1.pdf');
  });
  test('keeps a mail without attachment whole and says how much text it has', async () => {
    const arrival = await mail('From: a@b.example\nSubject: Hello\n\nfour words of text\n');
    expect(arrival).toMatchObject({ problem: { code: 'no-attachment', text: expect.stringContaining('only 4 words of text') }, files: [{ name: 'message-3.eml', mediaType: 'message/rfc822' }] });
  });
  test('reads the text itself where that is wanted', async () => {
    expect(await mail('From: a@b.example\nSubject: Slip / booking\n\nplease book a slip\n', 'read')).toMatchObject({ problem: null, files: [{ name: 'booking.eml', mediaType: 'message/rfc822' }] });
    expect((await mail('From: a@b.example\nSubject: x\n\n\n', 'read')).problem?.code).toBe('no-attachment');
  });
  test('says when the parts of a mail are broken', async () => {
    const arrival = await mail('From: a@b.example\nContent-Type: multipart/mixed; boundary="wanted"\n\n--another\nContent-Disposition: attachment; filename=bill.pdf\n\nxx\n');
    expect(arrival.problem?.text).toContain('its parts are damaged');
  });
  test('the same bytes have the same key, other bytes another', async () => {
    const [one, again, other] = await Promise.all([mail('Subject: a\n\nx\n'), mail('Subject: a\n\nx\n'), mail('Subject: a\n\ny\n')]);
    expect([one.dedupeKey === again.dedupeKey, one.dedupeKey === other.dedupeKey]).toEqual([true, false]);
  });
  test.each(['', '\u0000\u0001\u0002', 'From:\nDate: never\nContent-Type: multipart/mixed', 'x'.repeat(100_000)])('never throws (%#)', async (raw) => {
    expect((await mail(raw)).files).toHaveLength(1);
  });
});
