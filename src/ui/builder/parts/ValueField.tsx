'use client';
import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import TextField from '@mui/material/TextField';
import { useQuery } from '@tanstack/react-query';
import type { Composed, Value } from '@/core/pipeline/definition';
import { compute, expressionFrom } from '@/core/pipeline/expression';
import { glimpseOf } from '@/core/value/glimpse';
import { wayOfValue } from '@/core/pipeline/values';
import { Choices } from '../../frame/Choices';
import { VALUE_FACE } from '../../theme';
import { rowsIn, useBuilderView, useOffers, valueIn } from '../context';

const WAYS = [{ value: 'pick', label: 'Picked' }, { value: 'text', label: 'Text' }, { value: 'expression', label: 'Computed' }] as const;
type Way = (typeof WAYS)[number]['value'];

interface Props {
  readonly step: string;
  readonly table?: string | undefined;
  readonly label: string;
  readonly value: Value | undefined;
  readonly onChange: (value: Value) => void;
}

const composedOf = (value: Value | undefined): Composed => (value === undefined ? {} : typeof value === 'string' ? { pick: value } : value);

/** Only picked and nothing else kept: the short form. */
const shortened = (value: Composed): Value => (wayOfValue(value) === 'pick' && value.text === undefined && value.expression === undefined ? (value.pick ?? '') : value);

/** A value: picked from what earlier steps give, written as a text with values in it, or computed. Switching keeps what stood there. */
export function ValueField({ step, table, label, value, onChange }: Props) {
  const composed = composedOf(value);
  const way = wayOfValue(composed);
  const set = (next: Composed) => onChange(shortened(next));
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) auto', gap: 0.5, alignItems: 'start' }}>
      {way === 'pick' && <Picker step={step} table={table} label={label} value={composed.pick ?? ''} onChange={(pick) => set({ ...composed, pick })} />}
      {way === 'text' && <Template step={step} table={table} label={label} value={composed.text ?? ''} onChange={(text) => set({ ...composed, text })} />}
      {way === 'expression' && <Expression label={label} table={table} value={composed.expression ?? ''} onChange={(expression) => set({ ...composed, expression })} />}
      <Choices label={`How “${label}” is given`} choices={WAYS} value={way} onChoose={(chosen) => set(switched(composed, chosen as Way))} />
    </Box>
  );
}

function switched(value: Composed, by: Way): Composed {
  const empty = value[by] === undefined ? { [by]: '' } : {};
  return { ...value, ...empty, by };
}

/** The grouped picker of what earlier steps give, with the values of the document that is shown. */
export function Picker({ step, table, label, value, onChange }: { readonly step: string; readonly table?: string | undefined; readonly label: string; readonly value: string; readonly onChange: (source: string) => void }) {
  const offers = useOffers(step, table);
  const chosen = offers.find((offer) => offer.source === value) ?? null;
  return (
    <Autocomplete
      size="small"
      options={offers}
      value={chosen}
      groupBy={(offer) => offer.group}
      getOptionLabel={(offer) => offer.label}
      getOptionKey={(offer) => offer.source}
      isOptionEqualToValue={(a, b) => a.source === b.source}
      onChange={(_event, offer) => onChange(offer?.source ?? '')}
      renderInput={(params) => <TextField {...params} label={label} error={value !== '' && chosen === null} helperText={value !== '' && chosen === null ? `“${value}” is nothing that an earlier step gives` : chosen?.value ? <Shown>{glimpseOf(chosen.value)}</Shown> : undefined} />}
      renderOption={({ key, ...props }, offer) => (
        <Box component="li" key={key} {...props} sx={{ display: 'flex', gap: 2 }}>
          <Box sx={{ flex: 1 }}>{offer.label}</Box>
          <Box sx={{ color: 'text.secondary', fontFamily: VALUE_FACE, fontSize: 12.5, maxWidth: 180, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{glimpseOf(offer.value ?? '')}</Box>
        </Box>
      )}
    />
  );
}

const Shown = ({ children }: { readonly children: React.ReactNode }) => <Box component="span" sx={{ fontFamily: VALUE_FACE, fontSize: 12.5 }}>{children}</Box>;

/** A text with values in braces; a value is put in from the picker below. */
export function Template({ step, table, label, value, long = false, help, onChange }: { readonly step: string; readonly table?: string | undefined; readonly label: string; readonly value: string; readonly long?: boolean; readonly help?: string | undefined; readonly onChange: (text: string) => void }) {
  const offers = useOffers(step, table);
  const { documents, document } = useBuilderView();
  const data = documents.find(({ id }) => id === document)?.data;
  const shown = data && /\{[^{}]+\}/.test(value) ? value.replace(/\{([^{}]+)\}/g, (_whole, source: string) => valueIn(data, source.trim(), table) ?? '') : null;
  return (
    <Box>
      <TextField fullWidth size="small" label={label} value={value} multiline={long} minRows={long ? 3 : undefined} onChange={(event) => onChange(event.target.value)} helperText={shown ? <Shown>{shown}</Shown> : help} />
      <Autocomplete
        size="small"
        sx={{ mt: 0.5, maxWidth: 260 }}
        options={offers}
        value={null}
        blurOnSelect
        clearOnBlur
        groupBy={(offer) => offer.group}
        getOptionLabel={(offer) => offer.label}
        getOptionKey={(offer) => offer.source}
        onChange={(_event, offer) => { if (offer) onChange(`${value}{${offer.source}}`); }}
        renderInput={(params) => <TextField {...params} placeholder="Put in a value" variant="standard" />}
      />
    </Box>
  );
}

/** An expression with its result for every document that is tried, and its mistake where it stands. */
function Expression({ label, table, value, onChange }: { readonly label: string; readonly table: string | undefined; readonly value: string; readonly onChange: (text: string) => void }) {
  const { documents } = useBuilderView();
  const parsed = expressionFrom(value === '' ? '""' : value);
  const { data: results } = useQuery({
    queryKey: ['computed', value, documents.map(({ id }) => id).join(), table],
    queryFn: () => Promise.all(documents.slice(0, MOST_RESULTS).map(async ({ id, fileName, data }) => ({ id, fileName, computed: await compute(value, { ...data, row: rowsIn(data, table)[0] ?? {} }) }))),
    enabled: parsed.ok && value !== '',
  });
  return (
    <Box>
      <TextField fullWidth size="small" multiline label={label} value={value} onChange={(event) => onChange(event.target.value)} error={!parsed.ok} helperText={parsed.ok ? 'JSONata; fields by key, row.…, note.…, and steps by their ids' : `${parsed.at === null ? '' : `At character ${parsed.at}: `}${parsed.why}`} slotProps={{ htmlInput: { spellCheck: false, style: { fontFamily: VALUE_FACE, fontSize: 13 } } }} />
      {parsed.ok && results?.map(({ id, fileName, computed }) => (
        <Box key={id} sx={{ display: 'flex', gap: 1, fontSize: 12.5 }}>
          <Box sx={{ color: 'text.secondary', width: 150, overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>{fileName}</Box>
          <Box sx={{ fontFamily: VALUE_FACE, color: computed.ok ? 'inherit' : 'chart.signal', overflowWrap: 'anywhere' }}>{computed.ok ? (computed.value ?? 'nothing').slice(0, 200) : computed.why}</Box>
        </Box>
      ))}
    </Box>
  );
}

const MOST_RESULTS = 4;
