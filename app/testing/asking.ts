import { vi } from 'vitest';
import { renderPage } from './render';
import { tasksStandIn } from './tasks-stand-in';

/** Draws a page whose plans are never ready. @returns with what it has asked for */
export function renderAsking(page: React.ReactElement, path: string, context = {}) {
  const worker = tasksStandIn(() => ({ state: 'running' }));
  vi.stubGlobal(
    'fetch',
    async (address: string, init?: RequestInit) => (await worker.answer(address, init)) ?? new Response(),
  );
  const asked = () => worker.asked.map(({ operation, choices }) => ({ operation, choices }));
  return { ...renderPage(page, { path, context }), asked };
}
