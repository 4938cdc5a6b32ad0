/** What a drawing looks like that stands by itself: of style sheets nothing is left. */
const KEPT = [
  'fill',
  'stroke',
  'stroke-width',
  'stroke-dasharray',
  'opacity',
  'font-family',
  'font-size',
  'font-weight',
];

/** A drawing of the page as a picture file, with the looks that it has there. */
export function pictureOf(drawn: SVGSVGElement): Blob {
  const copy = drawn.cloneNode(true) as SVGSVGElement;
  const originals = [...drawn.querySelectorAll<SVGElement>('*')];
  for (const [n, element] of [...copy.querySelectorAll<SVGElement>('*')].entries()) {
    const style = getComputedStyle(originals[n]!);
    for (const property of KEPT) element.setAttribute(property, style.getPropertyValue(property));
    for (const attribute of ['class', 'role', 'tabindex', 'aria-label', 'aria-pressed'])
      element.removeAttribute(attribute);
  }
  copy.removeAttribute('class');
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg');
  return new Blob([new XMLSerializer().serializeToString(copy)], { type: 'image/svg+xml' });
}
