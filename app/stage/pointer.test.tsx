import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { StagePointer } from './pointer';

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

function setUp() {
  const canvas = document.createElement('canvas');
  const [onPress, onClick, onMenu, onHover, onLeave] = [vi.fn(), vi.fn(), vi.fn(), vi.fn(), vi.fn()];
  const pointer = new StagePointer(canvas, { onPress, onClick, onMenu, onHover, onLeave, pause: () => 80 });
  const send = (type: string, x = 0, y = 0, button = 0) =>
    canvas.dispatchEvent(new MouseEvent(`pointer${type}`, { clientX: x, clientY: y, button }));
  return { pointer, send, onClick, onMenu, onHover, onLeave };
}

describe('the pointer on the stage', () => {
  it('clicks when it is let go where it was pressed, and not after a drag', () => {
    const { send, onClick, onMenu } = setUp();
    send('down', 10, 10);
    send('up', 12, 11);
    expect(onClick).toHaveBeenCalledTimes(1);
    send('down', 10, 10);
    send('up', 40, 10);
    // The right button moves the model; letting go without a press is somebody else's.
    send('down', 10, 10, 2);
    send('up', 10, 10, 2);
    expect(onMenu).toHaveBeenCalledTimes(1);
    send('down', 10, 10, 2);
    send('up', 60, 10, 2);
    expect(onMenu).toHaveBeenCalledTimes(1);
    send('up', 10, 10);
    expect(onClick).toHaveBeenCalledTimes(1);
  });

  it('is looked at now and then while it moves, and not while a button is down', () => {
    const { send, onHover } = setUp();
    for (let x = 0; x < 10; x++) send('move', x);
    vi.advanceTimersByTime(100);
    expect(onHover).toHaveBeenCalledTimes(1);
    send('move', 20);
    send('down', 20);
    vi.advanceTimersByTime(100);
    send('move', 30);
    vi.advanceTimersByTime(100);
    expect(onHover).toHaveBeenCalledTimes(1);
  });

  it('says when it leaves, and nothing once the stage is gone', () => {
    const { pointer, send, onHover, onLeave, onClick } = setUp();
    send('leave');
    expect(onLeave).toHaveBeenCalledTimes(1);
    send('move', 1);
    pointer.dispose();
    vi.advanceTimersByTime(100);
    send('down');
    send('up');
    expect(onHover).not.toHaveBeenCalled();
    expect(onClick).not.toHaveBeenCalled();
  });
});
