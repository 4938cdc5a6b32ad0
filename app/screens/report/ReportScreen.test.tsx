import { screen, within } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { plainEntry } from '#core/entry';
import { reportNamed } from '#core/operations';
import { renderPage } from '../../testing/render';
import { ReportScreen } from './ReportScreen';

const scan = reportNamed('scan')!;
const link = {
  from: 'a.stp',
  kind: 'component',
  written: 'b.stp',
  to: null,
  state: 'missing',
  reason: 'No file of that name.',
  occurrences: 1,
};
const data = {
  files: [],
  links: [link],
  roots: ['a.stp'],
  unused: [],
  totals: {
    files: 1,
    links: 1,
    sound: 0,
    behind: 0,
    missing: 1,
    ambiguous: 0,
    loop: 0,
    occurrences: 1,
    distinctParts: 1,
  },
};

/** The address of all operations and reports, as far as it looks. */
function answering(answer: (request: { task?: string }) => object) {
  const asked: { task?: string }[] = [];
  vi.stubGlobal('fetch', async (_: string, init?: RequestInit) => {
    const request = JSON.parse(String(init?.body ?? '{}'));
    asked.push(request);
    return Response.json(answer(request));
  });
  return asked;
}

describe('the page of a report', () => {
  it('asks at once, says it in a sentence, and lists one table at a time', async () => {
    const asked = answering(() => ({
      looked: {
        data,
        words: scan.words(data),
        summary: scan.summary!(data),
        tables: scan.tables!(data),
        hasFindings: true,
      },
    }));
    const { user } = renderPage(
      <ReportScreen entry={plainEntry(scan)} argument={null} files={[]} choices={[]} />,
    );
    await screen.findByText(/^1 file, 1 link: 0 sound/);
    expect(asked).toMatchObject([{ intent: 'look', report: 'scan', choices: {} }]);
    const links = screen.getByRole('grid', { name: 'Links' });
    expect(within(links).getAllByRole('row')[1]!.textContent).toContain('missing');
    await user.click(screen.getByRole('radio', { name: /Files 0/ }));
    await screen.findByText('Nothing to list.');
  });

  it('says why it cannot be looked at, and waits while something is to be chosen', async () => {
    const asked = answering(() => ({ refused: 'There is no such change.' }));
    const compare = plainEntry(reportNamed('compare')!);
    const choices = [{ name: 'with', description: 'the older state', isRequired: true }];
    const { user } = renderPage(
      <ReportScreen entry={compare} argument={null} files={[]} choices={choices} />,
    );
    expect(asked).toEqual([]);
    await user.type(screen.getByLabelText('The older state'), 'x');
    expect((await screen.findByRole('alert')).textContent).toBe('There is no such change.');
  });

  it('is stopped for good while the job worker is at it, and looks again when asked to', async () => {
    const running = { id: 't', state: 'running', doing: 'Reading', done: 1, total: 3 };
    const asked = answering((request) => ('intent' in request ? { task: request.task } : running));
    const { user } = renderPage(
      <ReportScreen entry={plainEntry(scan)} argument={null} files={[]} choices={[]} />,
    );
    const looks = () => asked.filter((request) => 'intent' in request);
    await user.click(await screen.findByRole('button', { name: 'Cancel' }));
    await screen.findByText('It was stopped.');
    expect(asked).toContainEqual({ cancel: looks()[0]!.task });
    expect(looks()).toHaveLength(1);
    expect(screen.queryByText('Looking…')).toBeNull();
    await user.click(screen.getByRole('button', { name: 'Look again' }));
    await screen.findByRole('button', { name: 'Cancel' });
    expect(looks()).toHaveLength(2);
  });

  it('asks again when another page stopped what both waited for, and gives up when that goes on', async () => {
    const stopped = { id: 't', state: 'cancelled', doing: '', done: 0, total: 0, result: null, error: null };
    const asked = answering((request) => ('intent' in request ? { task: request.task } : stopped));
    renderPage(<ReportScreen entry={plainEntry(scan)} argument={null} files={[]} choices={[]} />);
    expect((await screen.findByRole('alert')).textContent).toContain('was stopped elsewhere');
    expect(asked.filter((request) => 'intent' in request)).toHaveLength(3);
  });
});
