import { fireEvent, screen, waitFor } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import { renderPage } from '../../testing/render';
import { sendToPlace } from './bring';
import { DropZone } from './DropZone';

const file = (name: string) => new File(['x'], name);
const drop = (...names: string[]) => ({
  types: ['Files'],
  items: names.map((name) => ({
    webkitGetAsEntry: () => ({ isFile: true, name, file: (told: (one: File) => void) => told(file(name)) }),
  })),
});

function openZone(disabled = false) {
  const onFiles = vi.fn();
  renderPage(
    <DropZone words="Drop to place it" disabled={disabled} onFiles={onFiles}>
      <p>The page</p>
    </DropZone>,
  );
  return { onFiles, zone: screen.getByTestId('drop-zone') };
}

describe('a zone for files from outside', () => {
  it('shows that it takes them while they are above it, and takes them', async () => {
    const { onFiles, zone } = openZone();
    fireEvent.dragOver(zone, { dataTransfer: drop('a.stp') });
    expect(zone.dataset).toMatchObject({ over: 'true', words: 'Drop to place it' });
    fireEvent.drop(screen.getByText('The page'), { dataTransfer: drop('a.stp', 'b.stp') });
    expect(zone.dataset.over).toBeUndefined();
    await waitFor(() => expect(onFiles).toHaveBeenCalledOnce());
    expect(onFiles.mock.calls[0]![0].map(({ path }: { path: string }) => path)).toEqual(['a.stp', 'b.stp']);
  });

  it('takes files that are in no file system, too', async () => {
    const { onFiles, zone } = openZone();
    const dataTransfer = {
      types: ['Files'],
      items: [
        { webkitGetAsEntry: () => null, getAsFile: () => file('c.stp') },
        { webkitGetAsEntry: () => null, getAsFile: () => null },
      ],
    };
    fireEvent.drop(zone, { dataTransfer });
    await waitFor(() => expect(onFiles).toHaveBeenCalledOnce());
    expect(onFiles.mock.calls[0]![0].map(({ path }: { path: string }) => path)).toEqual(['c.stp']);
  });

  it('leaves what is dragged inside of the page alone', () => {
    const { onFiles, zone } = openZone();
    const dataTransfer = { ...drop('a.stp'), types: ['application/x-row'] };
    fireEvent.dragOver(zone, { dataTransfer });
    fireEvent.drop(zone, { dataTransfer });
    expect(zone.dataset.over).toBeUndefined();
    expect(onFiles).not.toHaveBeenCalled();
  });

  it('takes nothing from whoever may only look', () => {
    const { onFiles, zone } = openZone(true);
    fireEvent.dragOver(zone, { dataTransfer: drop('a.stp') });
    expect(zone.dataset.over).toBeUndefined();
    fireEvent.drop(zone, { dataTransfer: drop('a.stp') });
    expect(onFiles).not.toHaveBeenCalled();
  });
});

describe('files that are dropped on an assembly', () => {
  const sendTo = (...names: string[]) => {
    const sending = { state: { step: 'none' as const }, send: vi.fn(), refuse: vi.fn(), stop: vi.fn() };
    sendToPlace(
      'drive/drive.stp',
      names.map((path) => ({ path, file: file(path) })),
      sending,
    );
    return sending;
  };

  it('go into its folder, and the first that can stand in it is placed then', () => {
    const { send } = sendTo('photo.png', 'stud.stp');
    const [uploads, then] = send.mock.calls[0]!;
    expect(uploads.map(({ path }: { path: string }) => path)).toEqual(['drive/photo.png', 'drive/stud.stp']);
    expect(then).toEqual({ place: 'drive/stud.stp', placeIn: 'drive/drive.stp' });
  });

  it('are refused where none of them can', () => {
    const { send, refuse } = sendTo('photo.png');
    expect(send).not.toHaveBeenCalled();
    expect(refuse.mock.calls[0]![0]).toMatch(/^Only STEP files/);
  });
});
