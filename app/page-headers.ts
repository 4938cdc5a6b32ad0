/**
 * Headers of every page. Scripts run only with the nonce of this answer; WebAssembly unpacks meshes; Mantine writes
 * style attributes. Nothing is fetched from elsewhere, and no other site may frame the page.
 */
export function setPageHeaders(headers: Headers, nonce: string): void {
  const policy = {
    'default-src': "'self'",
    'script-src': `'self' 'nonce-${nonce}' 'wasm-unsafe-eval'`,
    'style-src': "'self' 'unsafe-inline'",
    'img-src': "'self' data: blob:",
    'font-src': "'self' data:",
    'connect-src': "'self' blob: data:",
    'worker-src': "'self' blob:",
    'object-src': "'none'",
    'base-uri': "'none'",
    'form-action': "'self'",
    'frame-ancestors': "'none'",
  };
  headers.set(
    'Content-Security-Policy',
    Object.entries(policy)
      .map(([directive, sources]) => `${directive} ${sources}`)
      .join('; '),
  );
  headers.set('X-Content-Type-Options', 'nosniff');
  headers.set('Referrer-Policy', 'same-origin');
}
