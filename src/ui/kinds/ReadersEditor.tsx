'use client';
import ArrowUpward from '@mui/icons-material/ArrowUpward';
import Close from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import type { FieldReaderSettings, KindDefinition, PageChoice } from '@/core/reading/kind';
import { readerText } from './words';

/** Layout key → the readers of one field, in the order in which they are tried. */
export type Ways = Readonly<Record<string, readonly FieldReaderSettings[]>>;

export const waysOf = (kind: KindDefinition, field: string | undefined): Ways => Object.fromEntries(kind.layouts.map((layout) => [layout.key, (field === undefined ? undefined : layout.fields[field]) ?? []]));

/** The kind with these readers for a field; a layout without any for it is left to what the field is called. */
export function withWays(kind: KindDefinition, field: string, ways: Ways): KindDefinition {
  return { ...kind, layouts: kind.layouts.map((layout) => {
    const { [field]: before, ...others } = layout.fields;
    const own = ways[layout.key] ?? before ?? [];
    return { ...layout, fields: own.length > 0 ? { ...others, [field]: own } : others };
  }) };
}

type Editable = Extract<FieldReaderSettings, { readonly reader: 'pattern' | 'anchor' | 'described' }>;
const isEditable = (reader: FieldReaderSettings): reader is Editable => reader.reader === 'pattern' || reader.reader === 'anchor' || reader.reader === 'described';

const NEW_WAYS: Readonly<Record<string, { readonly text: string; readonly reader: Editable }>> = {
  right: { text: 'right of words', reader: { reader: 'anchor', anchors: [], direction: 'right' } },
  below: { text: 'below words', reader: { reader: 'anchor', anchors: [], direction: 'below' } },
  between: { text: 'between this and that', reader: { reader: 'pattern', after: '', before: '' } },
  pattern: { text: 'by a pattern', reader: { reader: 'pattern', pattern: '' } },
  described: { text: 'from its name', reader: { reader: 'described' } },
};

/** How a field is found, layout by layout: the first way that is sure enough wins. */
export function ReadersEditor({ kind, ways, onChange }: { readonly kind: KindDefinition; readonly ways: Ways; readonly onChange: (ways: Ways) => void }) {
  if (kind.layouts.length === 0) return <Box sx={{ fontSize: 13, color: 'text.secondary' }}>It is found from its name and description. Ways of its own come with layouts, which are learned from samples.</Box>;
  return (
    <Box sx={{ display: 'grid', gap: 1.5 }}>
      {kind.layouts.map((layout) => {
        const own = ways[layout.key] ?? [];
        const put = (next: readonly FieldReaderSettings[]) => onChange({ ...ways, [layout.key]: next });
        return (
          <Box key={layout.key}>
            <Box sx={{ fontSize: 13, fontWeight: 600 }}>{layout.name}</Box>
            {own.length === 0 && <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{layout.landmarks ? 'from its name and description' : 'not looked for'}</Box>}
            {own.map((reader, index) => <Way key={index} reader={reader} number={index + 1} onChange={(next) => put(own.map((each, at) => (at === index ? next : each)))} onUp={index === 0 ? null : () => put([...own.slice(0, index - 1), reader, ...own.slice(index - 1, index), ...own.slice(index + 1)])} onRemove={() => put(own.filter((_, at) => at !== index))} />)}
            <TextField select size="small" value="" label="Add a way" sx={{ mt: 0.75, minWidth: 170 }} onChange={(event) => put([...own, ...(NEW_WAYS[event.target.value] ? [NEW_WAYS[event.target.value]?.reader as FieldReaderSettings] : [])])}>
              {Object.entries(NEW_WAYS).map(([key, { text }]) => <MenuItem key={key} value={key}>{text}</MenuItem>)}
            </TextField>
          </Box>
        );
      })}
    </Box>
  );
}

interface WayProps {
  readonly reader: FieldReaderSettings;
  readonly number: number;
  readonly onChange: (reader: FieldReaderSettings) => void;
  readonly onUp: (() => void) | null;
  readonly onRemove: () => void;
}

function Way({ reader, number, onChange, onUp, onRemove }: WayProps) {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '18px 1fr auto', gap: 1, alignItems: 'center', mt: 1.25 }}>
      <Box sx={{ color: 'text.secondary', fontSize: 13 }}>{number}</Box>
      {isEditable(reader) ? <Parts reader={reader} onChange={onChange} /> : <Box sx={{ fontSize: 13 }}>{readerText(reader)}</Box>}
      <Box sx={{ display: 'flex' }}>
        <Tooltip title="Try it earlier"><span><IconButton size="small" aria-label={`Try way ${number} earlier`} disabled={onUp === null} onClick={() => onUp?.()}><ArrowUpward sx={{ fontSize: 16 }} /></IconButton></span></Tooltip>
        <Tooltip title="Remove"><IconButton size="small" aria-label={`Remove way ${number}`} onClick={onRemove}><Close sx={{ fontSize: 16 }} /></IconButton></Tooltip>
      </Box>
    </Box>
  );
}

function Parts({ reader, onChange }: { readonly reader: Editable; readonly onChange: (reader: FieldReaderSettings) => void }) {
  if (reader.reader === 'described') return <Box sx={{ fontSize: 13 }}>{readerText(reader)}</Box>;
  const page = <Choice label="Page" value={reader.page ?? 'any'} options={{ any: 'any page', first: 'first page', last: 'last page' }} onChange={(value) => onChange({ ...reader, page: value as PageChoice })} />;
  if (reader.reader === 'anchor') {
    return (
      <Box sx={{ display: 'grid', gridTemplateColumns: '100px 1fr 112px', gap: 1 }}>
        <Choice label="Where" value={reader.direction} options={{ right: 'right of', below: 'below' }} onChange={(value) => onChange({ ...reader, direction: value as 'right' | 'below' })} />
        <TextField size="small" label="Words" placeholder="Bill no., Invoice no." value={reader.anchors.join(', ')} onChange={(event) => onChange({ ...reader, anchors: event.target.value.split(',').map((part) => part.trimStart()) })} />
        {page}
      </Box>
    );
  }
  const text = (name: 'pattern' | 'after' | 'before', label: string) => <TextField size="small" label={label} value={reader[name] ?? ''} onChange={(event) => onChange({ ...reader, [name]: event.target.value })} />;
  return <Box sx={{ display: 'grid', gridTemplateColumns: reader.pattern === undefined ? '1fr 1fr 112px' : '1fr 112px', gap: 1 }}>{reader.pattern === undefined ? <>{text('after', 'After')}{text('before', 'Before')}</> : text('pattern', 'Pattern (RE2)')}{page}</Box>;
}

function Choice({ label, value, options, onChange }: { readonly label: string; readonly value: string; readonly options: Readonly<Record<string, string>>; readonly onChange: (value: string) => void }) {
  return <TextField select size="small" label={label} value={value} onChange={(event) => onChange(event.target.value)}>{Object.entries(options).map(([key, text]) => <MenuItem key={key} value={key}>{text}</MenuItem>)}</TextField>;
}

/** What was typed, without empty parts and without blanks left at the ends of wordings. */
export const tidied = (ways: Ways): Ways => Object.fromEntries(Object.entries(ways).map(([layout, own]) => [layout, own.flatMap(tidy)]));

function tidy(reader: FieldReaderSettings): FieldReaderSettings[] {
  if (reader.reader === 'anchor') {
    const anchors = reader.anchors.map((wording) => wording.trim()).filter(Boolean);
    return anchors.length > 0 ? [{ ...reader, anchors }] : [];
  }
  if (reader.reader !== 'pattern') return [reader];
  const { after, before, pattern, ...rest } = reader;
  const parts = { ...(after?.trim() ? { after: after.trim() } : {}), ...(before?.trim() ? { before: before.trim() } : {}), ...(pattern ? { pattern } : {}) };
  return Object.keys(parts).length > 0 ? [{ ...rest, ...parts }] : [];
}
