import * as THREE from 'three';
import classes from './Stage.module.css';
import type { StageLabel } from './types';

interface Entry {
  label: StageLabel;
  element: HTMLButtonElement;
  /** Width in CSS pixels; measured when the text changes. */
  width: number;
}

/** As in `Stage.module.css`, in CSS pixels: no target is lower. */
const HEIGHT = 24;
const GAP = 3;
/** Most labels that are laid out at once; beyond that they would be a carpet. */
const MOST = 120;

/**
 * Names at the bodies. They never lie on each other: labels are placed from the most wanted to the least (selected, then
 * nearest to the eye), each to the right of its body's centre or at one of a few places around it; one that finds no
 * room is left out until it is hovered or the view changes.
 */
export class StageLabels {
  private entries: Entry[] = [];
  private readonly point = new THREE.Vector3();

  constructor(
    private readonly layer: HTMLElement,
    private readonly callbacks: { onPick(row: number): void; onName(row: number, name: string): void },
  ) {}

  set(labels: readonly StageLabel[]): void {
    const known = new Map(this.entries.map((entry) => [entry.label.row, entry]));
    this.entries = labels.map((label) => {
      const entry = known.get(label.row) ?? this.make(label);
      known.delete(label.row);
      const unchanged = entry.label.text === label.text && entry.width > 0;
      entry.label = label;
      if (!unchanged) {
        entry.element.textContent = label.text;
        entry.width = 0;
      }
      entry.element.dataset.tone = label.tone ?? '';
      return entry;
    });
    for (const { element } of known.values()) element.remove();
  }

  /** Lays the labels out anew. `anchorOf` gives the middle of a row's body, null when it is not drawn. */
  layOut(
    camera: THREE.Camera,
    width: number,
    height: number,
    anchorOf: (row: number) => THREE.Vector3 | null,
    first: ReadonlySet<number>,
  ): void {
    for (const entry of this.entries)
      if (entry.width === 0) {
        entry.element.hidden = false;
        entry.width = entry.element.offsetWidth;
      }
    const wanted = this.entries
      .flatMap((entry) => {
        const anchor = anchorOf(entry.label.row);
        if (!anchor) return [];
        const distance = anchor.distanceTo(camera.position);
        this.point.copy(anchor).project(camera);
        const x = ((this.point.x + 1) / 2) * width;
        const y = ((1 - this.point.y) / 2) * height;
        const inView = x > 0 && x < width && y > 44 && y < height - 24 && this.point.z < 1;
        return inView ? [{ entry, x, y, order: first.has(entry.label.row) ? -1 : distance }] : [];
      })
      .sort((a, b) => a.order - b.order);
    const taken: { left: number; top: number; right: number; bottom: number }[] = [];
    const placed = new Map<Entry, { left: number; top: number }>();
    for (const { entry, x, y } of wanted) {
      if (placed.size >= MOST) break;
      for (const [left, top] of placesAround(x, y, entry.width)) {
        const box = { left, top, right: left + entry.width + GAP, bottom: top + HEIGHT + GAP };
        if (left < 4 || box.right > width - 4 || top < 44 || box.bottom > height - 24) continue;
        if (
          taken.some(
            (other) =>
              box.left < other.right &&
              box.right > other.left &&
              box.top < other.bottom &&
              box.bottom > other.top,
          )
        )
          continue;
        taken.push(box);
        placed.set(entry, { left, top });
        break;
      }
    }
    for (const entry of this.entries) {
      const place = placed.get(entry);
      entry.element.hidden = !place;
      if (place)
        entry.element.style.transform = `translate(${Math.round(place.left)}px, ${Math.round(place.top)}px)`;
    }
    this.layer.dataset.labels = String(placed.size);
  }

  dispose(): void {
    for (const { element } of this.entries) element.remove();
    this.entries = [];
  }

  private make(label: StageLabel): Entry {
    const element = document.createElement('button');
    element.type = 'button';
    element.className = classes.label!;
    element.tabIndex = -1;
    element.title = 'Click to name this body';
    const entry: Entry = { label, element, width: 0 };
    element.addEventListener('click', () => {
      this.callbacks.onPick(entry.label.row);
      this.edit(entry);
    });
    this.layer.append(element);
    return entry;
  }

  /** Puts a field in the label's place: Enter takes the name, Escape leaves it as it was. */
  private edit(entry: Entry): void {
    const field = document.createElement('input');
    field.className = classes.labelField!;
    field.value = entry.label.name;
    field.setAttribute('aria-label', `Name of ${entry.label.text}`);
    field.style.transform = entry.element.style.transform;
    let open = true;
    const close = (take: boolean) => {
      if (!open) return;
      open = false;
      if (take && field.value.trim() !== entry.label.name)
        this.callbacks.onName(entry.label.row, field.value.trim());
      field.remove();
    };
    field.addEventListener('keydown', (event) => {
      event.stopPropagation();
      if (event.key !== 'Enter' && event.key !== 'Escape') return;
      close(event.key === 'Enter');
      entry.element.focus();
    });
    field.addEventListener('blur', () => close(true));
    this.layer.append(field);
    field.focus();
    field.select();
  }
}

/** Right of the point, left of it, above, below; then further up and down. */
function* placesAround(x: number, y: number, width: number): Generator<[number, number]> {
  const middle = y - HEIGHT / 2;
  for (const step of [0, 1, -1, 2, -2]) {
    yield [x + 5, middle + step * (HEIGHT + GAP)];
    yield [x - width - 5, middle + step * (HEIGHT + GAP)];
  }
}
