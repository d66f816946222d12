/** @jest-environment jsdom */
import { fireEvent, screen, waitFor } from '@testing-library/react';
import type { PipelineView } from '@/contracts/api';
import { Problem, showScreen } from '../../../tests/support/screen';
import { NewPipeline } from './NewPipeline';
import { Pipelines } from './Pipelines';
import { SendHint, snippet } from './SendHint';

const went: string[] = [];
jest.mock('next/navigation', () => ({ useRouter: () => ({ push: (to: string) => went.push(to) }) }));

const pipeline = (changes: Partial<PipelineView>): PipelineView => ({ key: 'bills', name: 'Bills', description: '', version: 2, publishedAt: '2026-03-12T00:00:00Z', note: '', steps: [], yaml: '', hasDraft: false, sources: [], startedBy: [], counts: {}, paused: null, priority: 0, ...changes });

describe(Pipelines, () => {
  test('say what waits and what stands still; one that was only begun leads to where it is built', async () => {
    showScreen(<Pipelines />, { 'GET /pipelines': [pipeline({ counts: { waiting: 3, finished: 9 }, paused: { at: '', by: 'Ebba' } }), pipeline({ key: 'new', name: 'New', version: null, publishedAt: null, hasDraft: true })] });
    await screen.findByText('Bills');
    expect([screen.getByText('3 on the desk').getAttribute('href'), screen.getByText('paused by Ebba'), screen.getByText('New').getAttribute('href'), screen.getByText('Bills').getAttribute('href')]).toEqual(['/runs?pipeline=bills&state=waiting', expect.anything(), '/pipelines/new/edit', '/pipelines/bills']);
  });
  test('where documents come from is said: what is watched, who starts it, or what is sent to it', async () => {
    const source = { key: 's', name: 'Folder', connector: 'folder', connectorName: '', settings: {}, pipeline: 'bills', enabled: true, checkedAt: null, problem: null, watched: true };
    showScreen(<Pipelines />, { 'GET /pipelines': [pipeline({ sources: [source, { ...source, name: 'Switched off', enabled: false }], startedBy: ['Post'] }), pipeline({ key: 'b', name: 'Alone' })], 'GET /kinds': [] });
    expect([await screen.findByText('from Folder, Post'), screen.getByText('from its endpoint only')].every(Boolean)).toBe(true);
  });
  test('where there are none, they say what to do', async () => {
    showScreen(<Pipelines />, { 'GET /pipelines': [], 'GET /kinds': [] });
    await screen.findByText('No pipelines yet');
    fireEvent.click(screen.getAllByRole('button', { name: 'New pipeline' })[1]!);
    expect(screen.getByRole('dialog')).toBeTruthy();
  });
});

describe(NewPipeline, () => {
  const answers = { 'GET /kinds': [{ key: 'bill', name: 'Bill' }], 'POST /pipelines': { key: 'my-bills' } };
  test('begins from the first kind unless another start is chosen', async () => {
    const asked = showScreen(<NewPipeline pipelines={[pipeline({})]} onClose={() => undefined} />, answers);
    await screen.findByText('Bill');
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: ' My bills ' } });
    fireEvent.click(screen.getByRole('button', { name: 'Begin' }));
    await waitFor(() => expect(went.at(-1)).toBe('/pipelines/my-bills/edit'));
    expect(asked.at(-1)?.body).toEqual({ name: 'My bills', start: { from: 'kind', kind: 'bill' } });
  });
  test('a file with mistakes stays in the form, with the sentences', async () => {
    showScreen(<NewPipeline pipelines={[]} onClose={() => undefined} />, { ...answers, 'POST /pipelines': new Problem('Line 3, column 5: needs “steps”.') });
    fireEvent.click(screen.getByRole('button', { name: /^From a file/ }));
    fireEvent.change(screen.getByLabelText('YAML'), { target: { value: 'leadline: pipeline/1' } });
    fireEvent.change(screen.getByLabelText('Name'), { target: { value: 'X' } });
    fireEvent.click(screen.getByRole('button', { name: 'Begin' }));
    expect(await screen.findByText('Line 3, column 5: needs “steps”.')).toBeTruthy();
    expect((screen.getByLabelText('YAML') as HTMLTextAreaElement).value).toBe('leadline: pipeline/1');
  });
  test('without a name nothing begins', async () => {
    showScreen(<NewPipeline pipelines={[]} onClose={() => undefined} />, answers);
    expect((screen.getByRole('button', { name: 'Begin' }) as HTMLButtonElement).disabled).toBe(true);
  });
});

describe(SendHint, () => {
  test.each(['curl', 'javascript', 'python'] as const)('the snippet for %s sends the file to the address, with a key', (language) => {
    const text = snippet(language, 'http://x/api/v1/pipelines/bills/documents');
    for (const part of ['http://x/api/v1/pipelines/bills/documents', 'bill.pdf', 'Idempotency-Key', 'file']) expect(text).toContain(part);
  });
  test('an event is told in the same languages, with a body that says what happened', () => {
    showScreen(<SendHint pipelineKey="bills" />, {});
    fireEvent.click(screen.getByRole('button', { name: 'An event' }));
    const text = screen.getByText(/pipelines\/bills\/events/).textContent;
    expect(JSON.parse(/-d '(.*)'/.exec(text)?.[1] ?? '')).toMatchObject({ properties: { berth: 'A4' }, files: [{ at: expect.stringContaining('https://') }] });
    fireEvent.click(screen.getByRole('button', { name: 'JavaScript' }));
    expect(screen.getByText(/method: 'POST'/)).toBeTruthy();
  });
  test('another language is one click away', () => {
    showScreen(<SendHint pipelineKey="bills" />, {});
    fireEvent.click(screen.getByRole('button', { name: 'Python' }));
    expect(screen.getByText(/import requests/)).toBeTruthy();
  });
});
