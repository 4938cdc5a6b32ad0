import { fireEvent, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import type { LookedAtFile } from '#server/views/operations/look';
import { renderPage } from '../../testing/render';
import { LookScreen } from './LookScreen';

const file = (
  path: string,
  as: LookedAtFile['as'],
  text: string | null = null,
  isCut = false,
): LookedAtFile => ({
  path,
  sha256: 'f'.repeat(64),
  as,
  text,
  isCut,
});
const open = (one: LookedAtFile) => renderPage(<LookScreen path={one.path} file={one} />);

describe('looking at a file', () => {
  it('shows an image, near and from afar, and says so when it is none', () => {
    open(file('drawings/lid.svg', 'image'));
    const image = screen.getByRole('img', { name: 'lid.svg' });
    expect(image.getAttribute('src')).toBe(`/projects/p/shown/${'f'.repeat(64)}?path=drawings%2Flid.svg`);
    expect(screen.getAllByRole('button').map(({ textContent }) => textContent)).toEqual([
      'Nearer',
      'Away',
      'All of it',
    ]);
    fireEvent.error(image);
    expect(screen.getByRole('alert').textContent).toContain('lid.svg is no image');
  });

  it('shows a text, and says where it shows its beginning only', () => {
    open(file('notes.txt', 'text', 'Line 1\nLine 2', true));
    expect(screen.getByRole<HTMLTextAreaElement>('textbox', { name: 'notes.txt' }).value).toBe(
      'Line 1\nLine 2',
    );
    expect(screen.getByRole('status').textContent).toContain('its beginning');
  });

  it('shows Markdown as it is meant, and HTML in it as text; nothing runs', () => {
    open(
      file('read.md', 'markdown', '# Title\n\n<script>alert(1)</script>\n\n| a | b |\n| - | - |\n| 1 | 2 |'),
    );
    const frame = screen.getByTitle<HTMLIFrameElement>('read.md');
    expect(frame.getAttribute('sandbox')).toBe('');
    expect(frame.srcdoc).toContain('<h1>Title</h1>');
    expect(frame.srcdoc).toContain('&lt;script&gt;');
    expect(frame.srcdoc).toContain('<td>2</td>');
  });

  it('shows a report in a frame in which nothing runs, and a document by the browser’s own viewer', () => {
    const report = open(file('report.html', 'page'));
    expect(screen.getByTitle('report.html').getAttribute('sandbox')).toBe('');
    report.unmount();
    open(file('sheet.pdf', 'document'));
    expect(screen.getByTitle('sheet.pdf').hasAttribute('sandbox')).toBe(false);
  });

  it('says so where the browser has no viewer for documents', () => {
    Object.defineProperty(navigator, 'pdfViewerEnabled', { value: false, configurable: true });
    open(file('sheet.pdf', 'document'));
    expect(screen.queryByTitle('sheet.pdf')).toBeNull();
    expect(screen.getByRole('status').textContent).toContain('Download sheet.pdf');
    Reflect.deleteProperty(navigator, 'pdfViewerEnabled');
  });

  it('shows a mesh on the stage, and says where it has no unit', () => {
    const mesh = open({ ...file('plate.stl', 'mesh'), mesh: 'stl' });
    expect(screen.getByRole('img', { name: 'The model shows 1 body.' })).toBeTruthy();
    expect(screen.getByText(/no unit of length/)).toBeTruthy();
    mesh.unmount();
    open({ ...file('plate.glb', 'mesh'), mesh: 'gltf' });
    expect(screen.queryByText(/no unit of length/)).toBeNull();
  });

  it('says what else can be done with what is not shown', () => {
    renderPage(<LookScreen path="part.stp" file={null} />);
    expect(screen.getByRole('link', { name: 'Its facts' }).getAttribute('href')).toBe(
      '/projects/p/files?sel=part.stp',
    );
    expect(screen.getByText(/Models stand on Structure/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Download' }).getAttribute('href')).toBe(
      '/projects/p/latest?path=part.stp',
    );
  });
});
