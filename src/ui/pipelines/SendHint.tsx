'use client';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { Choices } from '../frame/Choices';
import { useNotices } from '../frame/Notices';
import { VALUE_FACE } from '../theme';

const LANGUAGES = [{ value: 'curl', label: 'curl' }, { value: 'javascript', label: 'JavaScript' }, { value: 'python', label: 'Python' }] as const;
type Language = (typeof LANGUAGES)[number]['value'];

/** A request that sends a document, ready to be pasted. The key makes sending it twice harmless. */
export function snippet(language: Language, address: string): string {
  switch (language) {
    case 'curl':
      return `curl -F file=@bill.pdf -H 'Idempotency-Key: bill-4711' ${address}`;
    case 'javascript':
      return `const form = new FormData();\nform.append('file', new Blob([bytes]), 'bill.pdf');\nconst answer = await fetch('${address}', {\n  method: 'POST',\n  headers: { 'Idempotency-Key': 'bill-4711' },\n  body: form,\n});\nconsole.log(await answer.json());`;
    case 'python':
      return `import requests\n\nwith open("bill.pdf", "rb") as file:\n    answer = requests.post(\n        "${address}",\n        files={"file": file},\n        headers={"Idempotency-Key": "bill-4711"},\n    )\nprint(answer.json())`;
  }
}

/** A request that only says what happened; the file is fetched when a step needs it. */
export function eventSnippet(language: Language, address: string): string {
  const body = { subject: 'Bill 4711 is there', properties: { berth: 'A4' }, files: [{ at: 'https://archive.example/bills/4711.pdf' }] };
  switch (language) {
    case 'curl':
      return `curl -H 'Content-Type: application/json' -H 'Idempotency-Key: event-4711' \\\n  -d '${JSON.stringify(body)}' \\\n  ${address}`;
    case 'javascript':
      return `const answer = await fetch('${address}', {\n  method: 'POST',\n  headers: { 'Content-Type': 'application/json', 'Idempotency-Key': 'event-4711' },\n  body: JSON.stringify(${JSON.stringify(body)}),\n});\nconsole.log(await answer.json());`;
    case 'python':
      return `import requests\n\nanswer = requests.post(\n    "${address}",\n    json=${JSON.stringify(body)},\n    headers={"Idempotency-Key": "event-4711"},\n)\nprint(answer.json())`;
  }
}

const WHAT = [{ value: 'documents', label: 'A document' }, { value: 'events', label: 'An event' }] as const;
const SNIPPETS = { documents: snippet, events: eventSnippet } as const;

/** How other programs send documents to a pipeline, or tell it of them. */
export function SendHint({ pipelineKey }: { readonly pipelineKey: string }) {
  const [language, setLanguage] = useState<Language>('curl');
  const [what, setWhat] = useState<keyof typeof SNIPPETS>('documents');
  const { tell, warn } = useNotices();
  const text = SNIPPETS[what](language, `${window.location.origin}/api/v1/pipelines/${pipelineKey}/${what}`);
  return (
    <Box component="section" aria-label="Sending from other programs" sx={{ mx: 2.5, mb: 3, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', px: 1.5, py: 0.5 }}>
        <Box sx={{ fontWeight: 600 }}>Other programs send</Box>
        <Choices label="What is sent" choices={WHAT} value={what} onChoose={(chosen) => setWhat(chosen as keyof typeof SNIPPETS)} />
        <Choices label="Language" choices={LANGUAGES} value={language} onChoose={(chosen) => setLanguage(chosen as Language)} />
        <Box sx={{ flex: 1, color: 'text.secondary', fontSize: 13 }}>The whole interface: <a href="/api/v1/openapi.json">openapi.json</a></Box>
        <Button onClick={() => void navigator.clipboard.writeText(text).then(() => tell('Copied.'), warn)}>Copy</Button>
      </Box>
      {what === 'events' && <Box sx={{ px: 1.5, pb: 1, color: 'text.secondary', fontSize: 13 }}>Steps find the properties under what the pipeline was given. The file is fetched when a step needs it: from its address, or with “connection” through an application under Connections. Of several files each is a document; with “several”: “first” or “all” only the first is, or all are one.</Box>}
      <Box component="pre" sx={{ m: 0, px: 1.5, pb: 1.25, fontFamily: VALUE_FACE, fontSize: 12.5, overflow: 'auto' }}>{text}</Box>
    </Box>
  );
}
