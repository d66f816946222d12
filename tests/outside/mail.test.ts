/** Messages after the examples of the mail standards. Values from memory of the RFCs' own examples where marked. */
import { arrivalFrom } from '@/connectors/mailbox/message';

const mailbox = { uid: 7, folder: 'INBOX' };
const crlf = (text: string): Buffer => Buffer.from(text.replace(/\n/g, '\r\n'), 'latin1');
const PDF = Buffer.from('%PDF-1.4 sample').toString('base64');

// RFC 5322, appendix A.1.1: a message from one person to another.
test('RFC 5322 A.1.1: sender, subject and date are taken from the head', async () => {
  const arrival = await arrivalFrom(crlf('From: John Doe <jdoe@machine.example>\nTo: Mary Smith <mary@example.net>\nSubject: Saying Hello\nDate: Fri, 21 Nov 1997 09:55:06 -0600\nMessage-ID: <1234@local.machine.example>\n\nThis is a message just to say hello.\nSo, "Hello".\n'), mailbox);
  expect(arrival).toMatchObject({ sender: 'John Doe <jdoe@machine.example>', subject: 'Saying Hello', occurredAt: '1997-11-21T15:55:06.000Z', problem: { code: 'no-attachment' } });
  expect(arrival.files).toHaveLength(1);
});

// RFC 2046, 5.1.1: multipart/mixed with a preamble and an epilogue that are to be ignored.
test('RFC 2046 5.1.1: preamble and epilogue are no documents', async () => {
  const { files } = await arrivalFrom(crlf(`From: a@b.example\nMIME-Version: 1.0\nContent-type: multipart/mixed; boundary="simple boundary"\n\nThis is the preamble.\n--simple boundary\n\nplain text\n--simple boundary\nContent-Type: application/pdf; name=a.pdf\nContent-Transfer-Encoding: base64\nContent-Disposition: attachment\n\n${PDF}\n--simple boundary--\n\nThis is the epilogue.\n`), mailbox);
  expect(files.map((file) => [file.name, file.mediaType, file.bytes.toString()])).toEqual([['a.pdf', 'application/pdf', '%PDF-1.4 sample']]);
});

// RFC 2231, section 4.1: parameter continuations with charset and language.
test('RFC 2231 4.1: a file name in continued, encoded parameters', async () => {
  const { files } = await arrivalFrom(crlf(`From: a@b.example\nMIME-Version: 1.0\nContent-Type: application/pdf\nContent-Transfer-Encoding: base64\nContent-Disposition: attachment; filename*0*=us-ascii'en'This%20is%20even%20more%20;\n filename*1*=%2A%2A%2Afun%2A%2A%2A%20; filename*2="isn't it.pdf"\n\n${PDF}\n`), mailbox);
  // Stars are not safe in file names and are left out.
  expect(files[0]?.name).toBe("This is even more fun isn't it.pdf");
});

// RFC 2047, section 8.
test('RFC 2047 8: encoded words in sender and subject', async () => {
  const arrival = await arrivalFrom(crlf('From: =?ISO-8859-1?Q?Patrik_F=E4ltstr=F6m?= <paf@nada.kth.example>\nSubject: =?ISO-8859-1?B?SWYgeW91IGNhbiByZWFkIHRoaXMgeW8=?=\n =?ISO-8859-2?B?dSB1bmRlcnN0YW5kIHRoZSBleGFtcGxlLg==?=\n\n.\n'), mailbox);
  expect([arrival.sender, arrival.subject]).toEqual(['Patrik Fältström <paf@nada.kth.example>', 'If you can read this you understand the example.']);
});
