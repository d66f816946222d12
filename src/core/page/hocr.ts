import { linesOf } from './lines';
import type { Box, Page } from './page';

/** hOCR counts in dots; this many to the inch keeps a tenth of a point. */
const DPI = 300;

const dots = (box: Box): string => box.map((edge) => Math.round((edge * DPI) / 72)).join(' ');
const escaped = (text: string): string => text.replace(/[&<>"]/g, (letter) => `&#${letter.charCodeAt(0)};`);

/** Pages as hOCR 1.2 (T. Breuel and others, “hOCR: OCR Workflow and Output embedded in HTML”): pages, lines and words with boxes and sureness. */
export function hocrOf(title: string, pages: readonly Page[]): string {
  const body = pages.map((page) => {
    const lines = linesOf(page).map((line, number) => {
      const words = line.words.map((word, index) => `<span class="ocrx_word" id="word_${page.number}_${number}_${index}" title="bbox ${dots(word.box)}; x_wconf ${Math.round((word.sure ?? 1) * 100)}">${escaped(word.text)}</span>`);
      return `  <span class="ocr_line" id="line_${page.number}_${number}" title="bbox ${dots(line.box)}">${words.join(' ')}</span>`;
    });
    return ` <div class="ocr_page" id="page_${page.number}" title="bbox ${dots([0, 0, page.width, page.height])}; ppageno ${page.number - 1}; scan_res ${DPI} ${DPI}">\n${lines.join('\n')}\n </div>`;
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n<!DOCTYPE html PUBLIC "-//W3C//DTD XHTML 1.0 Transitional//EN" "http://www.w3.org/TR/xhtml1/DTD/xhtml1-transitional.dtd">\n<html xmlns="http://www.w3.org/1999/xhtml">\n<head>\n<title>${escaped(title)}</title>\n<meta http-equiv="Content-Type" content="text/html;charset=utf-8"/>\n<meta name="ocr-system" content="Leadline"/>\n<meta name="ocr-capabilities" content="ocr_page ocr_line ocrx_word"/>\n</head>\n<body>\n${body.join('\n')}\n</body>\n</html>\n`;
}
