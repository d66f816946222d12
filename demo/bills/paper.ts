import PDFDocument from 'pdfkit';

/** One document being drawn, with a cursor; all lengths in points, A4. */
export class Paper {
  static readonly width = 595.28;
  static readonly height = 841.89;
  readonly pdf = new PDFDocument({ size: 'A4', margin: 0, bufferPages: true, info: { Title: 'Bill', CreationDate: new Date(0), ModDate: new Date(0) } });
  y = 0;

  constructor(readonly faces: { regular: string; bold: string }) {}

  /** Text on one line; `align` right puts its end at x. */
  say(text: string, x: number, y: number, style: { size?: number; bold?: boolean; align?: 'left' | 'right'; colour?: string } = {}): void {
    this.pdf.font(style.bold ? this.faces.bold : this.faces.regular).fontSize(style.size ?? 9.5).fillColor(style.colour ?? '#1d1d1f');
    const width = this.pdf.widthOfString(text);
    this.pdf.text(text, style.align === 'right' ? x - width : x, y, { lineBreak: false });
  }

  /** Break text at blanks to fit a width. */
  wrap(text: string, width: number, size = 9.5): string[] {
    this.pdf.font(this.faces.regular).fontSize(size);
    const lines: string[] = [];
    for (const word of text.split(' ')) {
      const longer = lines.length === 0 ? word : `${lines.at(-1) ?? ''} ${word}`;
      if (lines.length > 0 && this.pdf.widthOfString(longer) <= width) lines[lines.length - 1] = longer;
      else lines.push(word);
    }
    return lines;
  }

  rule(x0: number, x1: number, y: number, weight = 0.6, colour = '#777'): void {
    this.pdf.moveTo(x0, y).lineTo(x1, y).lineWidth(weight).strokeColor(colour).stroke();
  }

  newPage(): void {
    this.pdf.addPage();
  }

  /** Calls back for every page with its number and the number of all. */
  onEachPage(draw: (page: number, of: number) => void): void {
    const { count } = this.pdf.bufferedPageRange();
    for (let page = 0; page < count; page += 1) {
      this.pdf.switchToPage(page);
      draw(page + 1, count);
    }
  }

  bytes(): Promise<Buffer> {
    const chunks: Buffer[] = [];
    return new Promise((resolve, reject) => {
      this.pdf.on('data', (chunk: Buffer) => chunks.push(chunk));
      this.pdf.on('end', () => resolve(Buffer.concat(chunks)));
      this.pdf.on('error', reject);
      this.pdf.end();
    });
  }
}
