import { Paper } from '../bills/paper';
import type { MadePaper, PaperSpec, PaperTable } from './paper-spec';
import { makeStyle, type Style } from './style';

const BOTTOM = 745;

/** A paper as PDF bytes, with a text layer. */
export async function printPaper(made: MadePaper): Promise<Buffer> {
  const style = makeStyle(made.layout);
  const press = new Press(new Paper(style.faces), style);
  press.letterhead(made.spec);
  press.facts(made.spec);
  if (made.spec.table) press.table(made.spec.table);
  press.totals(made.spec);
  press.notes(made.spec);
  press.footer(made.spec);
  return press.paper.bytes();
}

type Ink = { size?: number; bold?: boolean; align?: 'left' | 'right'; colour?: string };

class Press {
  private readonly left: number;
  private readonly right: number;
  private readonly grey = '#555';

  constructor(
    readonly paper: Paper,
    readonly style: Style,
  ) {
    this.left = style.margin;
    this.right = Paper.width - style.margin;
  }

  private get line(): number {
    return this.style.size * 1.32;
  }

  private say(text: string, x: number, y: number, ink: Ink = {}): void {
    this.paper.say(text, x, y, { size: this.style.size, ...ink });
  }

  private widthOf(text: string, bold = false): number {
    return this.paper.pdf.font(bold ? this.style.faces.bold : this.style.faces.regular).fontSize(this.style.size).widthOfString(text);
  }

  letterhead({ sender, title, recipient }: PaperSpec): void {
    const { headSide, titleSide } = this.style;
    const [x, align] = headSide === 'left' ? ([this.left, 'left'] as const) : headSide === 'right' ? ([this.right, 'right'] as const) : ([Paper.width / 2, 'left'] as const);
    const centre = (text: string, size: number, bold: boolean): number => x - this.paper.pdf.font(bold ? this.style.faces.bold : this.style.faces.regular).fontSize(size).widthOfString(text) / 2;
    const put = (text: string, y: number, size: number, bold: boolean) => this.paper.say(text, headSide === 'centre' ? centre(text, size, bold) : x, y, { size, bold, align, colour: bold ? '#1c3d5a' : this.grey });
    put(sender.name, 38, 16, true);
    for (const [index, text] of sender.lines.entries()) put(text, 60 + index * 11, 8.5, false);
    const under = headSide === 'centre' || (headSide === titleSide) ? 108 : 40;
    this.paper.say(title, titleSide === 'left' ? this.left : this.right, under, { size: 15, bold: true, align: titleSide });
    for (const [index, text] of recipient.entries()) this.say(text, this.left, 136 + index * this.line);
    this.paper.y = 136;
  }

  facts({ facts }: PaperSpec): void {
    const shape = this.style.facts;
    if (shape === 'right column') this.column(facts, 340, this.right, 136);
    else if (shape === 'left column') this.column(facts, this.left, 320, 205);
    else if (shape === 'inline') this.inline(facts);
    else if (shape === 'stacked') this.stacked(facts);
    else this.across(facts, shape === 'boxes');
    this.paper.y += 20;
  }

  /** Label and value on one line, values aligned right or at a tab. */
  private column(facts: PaperSpec['facts'], x: number, right: number, top: number): void {
    const alignRight = this.style.wording('facts align', 2) === 0;
    const tab = x + Math.max(...facts.map((fact) => this.widthOf(fact.label))) + 14;
    for (const [index, fact] of facts.entries()) {
      const y = top + index * (this.line + 2);
      this.say(fact.label, x, y, { colour: this.grey });
      this.say(fact.printed, alignRight ? right : tab, y, { bold: true, align: alignRight ? 'right' : 'left' });
    }
    this.paper.y = Math.max(top + facts.length * (this.line + 2), 200);
  }

  /** Labels in a row, values under them. */
  private across(facts: PaperSpec['facts'], boxed: boolean): void {
    const top = 205;
    const width = (this.right - this.left) / facts.length;
    for (const [index, fact] of facts.entries()) {
      const x = this.left + index * width;
      if (boxed) this.paper.pdf.rect(x, top - 4, width, this.line * 2 + 10).lineWidth(0.5).strokeColor('#888').stroke();
      this.say(fact.label, x + 4, top, { colour: this.grey, size: this.style.size - 1 });
      this.say(fact.printed, x + 4, top + this.line, { bold: true });
    }
    this.paper.y = top + this.line * 2 + 10;
  }

  /** Several label–value pairs one after the other on a line. */
  private inline(facts: PaperSpec['facts']): void {
    let [x, y] = [this.left, 205];
    for (const fact of facts) {
      const text = `${fact.label.replace(/\s*:?$/, ':')} ${fact.printed}`;
      if (x + this.widthOf(text) > this.right && x > this.left) [x, y] = [this.left, y + this.line + 2];
      this.say(text, x, y);
      x += this.widthOf(text) + 28;
    }
    this.paper.y = y + this.line;
  }

  /** Label over value, one pair below the other, at the right. */
  private stacked(facts: PaperSpec['facts']): void {
    const x = 380;
    let y = 120;
    for (const fact of facts) {
      this.say(fact.label, x, y, { colour: this.grey, size: this.style.size - 1.5 });
      this.say(fact.printed, x, y + this.line - 1, { bold: true });
      y += this.line * 2 + 6;
    }
    this.paper.y = Math.max(y, 200);
  }

  table(table: PaperTable): void {
    const spans = this.spans(table);
    this.head(table, spans);
    for (const [index, row] of table.rows.entries()) {
      const cells = table.columns.map((column, place) => this.paper.wrap(row[column.key] ?? '', (spans[place]?.width ?? 50) - 8, this.style.size));
      const height = Math.max(...cells.map((lines) => lines.length)) * this.line + 5;
      if (this.paper.y + height > BOTTOM) this.turnPage(table, spans, index);
      this.row(table, spans, cells, height, index);
    }
    this.paper.y += 6;
  }

  private spans(table: PaperTable): { x: number; width: number }[] {
    const weights = table.columns.reduce((sum, column) => sum + column.weight, 0);
    let x = this.left;
    return table.columns.map((column) => {
      const width = ((this.right - this.left) * column.weight) / weights;
      const span = { x, width };
      x += width;
      return span;
    });
  }

  private head(table: PaperTable, spans: readonly { x: number; width: number }[]): void {
    const top = this.paper.y;
    if (this.style.table === 'banded') this.paper.pdf.rect(this.left, top - 3, this.right - this.left, this.line + 5).fill('#e3e8ec');
    for (const [place, column] of table.columns.entries()) this.cell(column.head, spans[place], column.align, top, true);
    if (this.style.table !== 'plain') this.paper.rule(this.left, this.right, top + this.line + 2);
    if (this.style.table === 'boxed') this.paper.rule(this.left, this.right, top - 4);
    this.paper.y = top + this.line + 7;
  }

  private row(table: PaperTable, spans: readonly { x: number; width: number }[], cells: readonly string[][], height: number, index: number): void {
    const top = this.paper.y;
    if (this.style.table === 'banded' && index % 2 === 1) this.paper.pdf.rect(this.left, top - 3, this.right - this.left, height).fill('#f3f5f7');
    for (const [place, column] of table.columns.entries()) {
      for (const [number, text] of (cells[place] ?? []).entries()) this.cell(text, spans[place], column.align, top + number * this.line, false);
    }
    this.paper.y = top + height;
    if (this.style.table === 'boxed') this.grid(spans, top - 4, this.paper.y - 4);
  }

  private grid(spans: readonly { x: number; width: number }[], top: number, bottom: number): void {
    this.paper.rule(this.left, this.right, bottom, 0.4);
    for (const x of [...spans.map((span) => span.x), this.right]) this.paper.pdf.moveTo(x, top).lineTo(x, bottom).lineWidth(0.4).strokeColor('#777').stroke();
  }

  private cell(text: string, span: { x: number; width: number } | undefined, align: 'left' | 'right', y: number, bold: boolean): void {
    if (!span) return;
    this.say(text, align === 'right' ? span.x + span.width - 4 : span.x + 4, y, { align, bold });
  }

  private turnPage(table: PaperTable, spans: readonly { x: number; width: number }[], rowsSoFar: number): void {
    const running = table.running?.(rowsSoFar);
    if (running) {
      this.say(running.label, this.left + 4, this.paper.y + 4, { bold: true });
      this.say(running.printed, this.right - 4, this.paper.y + 4, { bold: true, align: 'right' });
    }
    this.paper.newPage();
    this.paper.y = 60;
    this.head(table, spans);
  }

  totals({ totals }: PaperSpec): void {
    if (totals.length === 0) return;
    if (this.paper.y + totals.length * 18 + 20 > BOTTOM) {
      this.paper.newPage();
      this.paper.y = 60;
    }
    const label = this.style.totalsSide === 'left label' ? this.left : 350;
    for (const total of totals) {
      const top = this.paper.y;
      if (this.style.totalsSide === 'boxed') this.paper.pdf.rect(label - 6, top - 3, this.right - label + 6, this.line + 6).lineWidth(0.4).strokeColor('#888').stroke();
      this.say(total.label, label, top, { bold: total.strong ?? false });
      this.say(total.printed, this.right - 4, top, { bold: total.strong ?? false, align: 'right' });
      this.paper.y = top + this.line + 6;
    }
  }

  notes({ notes }: PaperSpec): void {
    this.paper.y += 14;
    for (const note of notes) {
      if (this.paper.y > BOTTOM) return;
      this.say(note, this.left, this.paper.y, { size: this.style.size - 1 });
      this.paper.y += this.line;
    }
  }

  footer({ footer }: PaperSpec): void {
    this.paper.onEachPage((page, of) => {
      for (const [index, text] of footer.entries()) this.paper.say(text, this.left, 790 + index * 10, { size: 7.5, colour: this.grey });
      this.paper.say(`Page ${page} of ${of}`, this.right, 790, { size: 7.5, align: 'right', colour: this.grey });
    });
  }
}
