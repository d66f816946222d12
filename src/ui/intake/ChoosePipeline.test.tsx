/** @jest-environment jsdom */
import { fireEvent, render, screen } from '@testing-library/react';
import type { PipelineView } from '@/contracts/api';
import { ChoosePipeline } from './ChoosePipeline';

const pipeline = (key: string, name: string): PipelineView => ({ key, name, description: `What ${name} does`, version: 1, publishedAt: '2026-03-12T00:00:00Z', note: '', yaml: '', steps: [], sources: [], startedBy: [], counts: {}, hasDraft: false, paused: null, priority: 0 });
const pipelines = [pipeline('post', 'Harbour post'), pipeline('bills', 'Haulage to ledger')];

describe(ChoosePipeline, () => {
  const show = (files: readonly File[]) => {
    const chosen: string[] = [];
    render(<ChoosePipeline pipelines={pipelines} files={files} onChoose={(key) => chosen.push(key)} onClose={() => chosen.push('closed')} />);
    return chosen;
  };
  test('names the file, and lets a key or a click choose', () => {
    const chosen = show([new File(['x'], 'bill.pdf')]);
    expect(screen.getByRole('heading', { name: 'Which pipeline takes bill.pdf?' })).toBeTruthy();
    fireEvent.keyDown(screen.getByRole('dialog'), { key: '2' });
    fireEvent.click(screen.getByRole('button', { name: /Harbour post/ }));
    expect(chosen).toEqual(['bills', 'post']);
  });
  test('counts several files, and can be left', () => {
    const chosen = show([new File(['x'], 'a.pdf'), new File(['y'], 'b.pdf')]);
    expect(screen.getByRole('heading', { name: 'Which pipeline takes these 2 files?' })).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: 'Back' }));
    expect(chosen).toEqual(['closed']);
  });
});
