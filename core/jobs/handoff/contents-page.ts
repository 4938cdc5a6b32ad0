import { isBroken } from '#core/files/links/resolve';
import type { PackageList } from './package-list';

/** The readable page of a package: what is in it and how the files hang together. HTML without script. */
export function contentsPage(list: PackageList): string {
  const rows = list.files
    .map(
      ({ path, original, why, bytes }) =>
        `<tr><td><a href="data/${href(path)}">${text(path)}</a></td><td>${original === path ? '' : text(original)}</td><td>${text(why)}</td><td class="n">${(bytes / 1000).toFixed(1)} kB</td></tr>`,
    )
    .join('\n');
  const links = list.links
    .map(
      ({ from, written, to, state }) =>
        `<tr${isBroken(state) ? ' class="broken"' : ''}><td>${text(from)}</td><td>${text(written)}</td><td>${text(to ?? '')}</td><td>${text(state)}</td></tr>`,
    )
    .join('\n');
  const broken = list.links.filter(({ state }) => isBroken(state)).length;
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>${text(list.title)}</title>
<style>
body{font:15px/1.5 system-ui,sans-serif;background:#F3F1EC;color:#23262B;margin:0;padding:2.5rem;max-width:70rem}
h1{font-size:1.6rem;margin:0 0 .25rem}h2{font-size:1.1rem;margin:2rem 0 .5rem}p{margin:.25rem 0;color:#55544E}
table{border-collapse:collapse;width:100%;background:#FCFBF8;border:1px solid #DDD8CD}
th,td{text-align:left;padding:.4rem .75rem;border-bottom:1px solid #DDD8CD;vertical-align:top}
td{font-family:ui-monospace,monospace;font-size:13px}.n{text-align:right;white-space:nowrap}a{color:#1E6F66}.broken td{color:#A8432B}
</style>
</head>
<body>
<h1>${text(list.title)}</h1>
<p>Packed ${text(list.created)}. Start with <a href="data/${href(list.root)}">${text(list.root)}</a>.</p>
<p>${list.files.length} files, ${list.links.length} links${broken > 0 ? `, ${broken} of them broken` : ', all sound'}. Checksums: manifest-sha256.txt (BagIt, RFC 8493).</p>
<h2>Files</h2>
<table><thead><tr><th>File</th><th>Original</th><th>Why it is here</th><th class="n">Size</th></tr></thead><tbody>
${rows}
</tbody></table>
<h2>Links</h2>
<table><thead><tr><th>In</th><th>Written</th><th>Leads to</th><th>State</th></tr></thead><tbody>
${links}
</tbody></table>
</body>
</html>
`;
}

function text(value: string): string {
  return value
    .replaceAll('&', '&amp;')
    .replaceAll('<', '&lt;')
    .replaceAll('>', '&gt;')
    .replaceAll('"', '&quot;');
}

function href(path: string): string {
  return text(path.split('/').map(encodeURIComponent).join('/'));
}
