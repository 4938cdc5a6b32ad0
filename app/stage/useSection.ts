import { useEffect, useRef, useState } from 'react';
import { useView } from '../ui/address/useView';
import { readSection, writeSection } from './section-address';
import type { SectionPlane } from './types';

/** Milliseconds: while it is moved the address rests. */
const PAUSE = 300;

/**
 * Where the model is cut open; it stands in the address, a moment later. Where the address says another, that is taken.
 * @param isOwn whether the address is for this one; two that share a plane have it from their page
 */
export function useSection(isOwn = true): [SectionPlane | null, (section: SectionPlane | null) => void] {
  const [view, change] = useView();
  const written = view.get('section');
  const [section, setSection] = useState(() => readSection(written));
  /** What the address said last, and what it was given from here: it comes back a moment later. */
  const seen = useRef(written);
  const given = useRef(written);
  useEffect(() => {
    if (!isOwn) return;
    if (written !== seen.current) {
      seen.current = written;
      if (written !== given.current) {
        given.current = written;
        setSection(readSection(written));
        return;
      }
    }
    const wanted = section && writeSection(section);
    if (wanted === (written && writeSection(readSection(written) ?? { normal: [0, 0, 0], at: 0 }))) return;
    const timer = setTimeout(() => {
      given.current = wanted;
      change({ section: wanted });
    }, PAUSE);
    return () => clearTimeout(timer);
  }, [isOwn, section, written, change]);
  return [section, setSection];
}
