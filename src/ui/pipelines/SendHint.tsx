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

/** How other programs send documents to a pipeline. */
export function SendHint({ pipelineKey }: { readonly pipelineKey: string }) {
  const [language, setLanguage] = useState<Language>('curl');
  const { tell, warn } = useNotices();
  const text = snippet(language, `${window.location.origin}/api/v1/pipelines/${pipelineKey}/documents`);
  return (
    <Box component="section" aria-label="Sending from other programs" sx={{ mx: 2.5, mb: 3, border: 1, borderColor: 'divider', bgcolor: 'background.paper' }}>
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'center', px: 1.5, py: 0.5 }}>
        <Box sx={{ fontWeight: 600 }}>Other programs send documents so</Box>
        <Choices label="Language" choices={LANGUAGES} value={language} onChoose={(chosen) => setLanguage(chosen as Language)} />
        <Box sx={{ flex: 1, color: 'text.secondary', fontSize: 13 }}>The whole interface: <a href="/api/v1/openapi.json">openapi.json</a></Box>
        <Button onClick={() => void navigator.clipboard.writeText(text).then(() => tell('Copied.'), warn)}>Copy</Button>
      </Box>
      <Box component="pre" sx={{ m: 0, px: 1.5, pb: 1.25, fontFamily: VALUE_FACE, fontSize: 12.5, overflow: 'auto' }}>{text}</Box>
    </Box>
  );
}
