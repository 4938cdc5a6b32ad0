import { useComputedColorScheme } from '@mantine/core';
import { micromark } from 'micromark';
import { gfmTable, gfmTableHtml } from 'micromark-extension-gfm-table';
import { useMemo } from 'react';
import classes from './Look.module.css';

/** What a text looks like that is written in Markdown. */
const STYLE = `
  body { max-width: 46rem; margin: 1.5rem auto; padding: 0 1.5rem; font: 15px/1.55 system-ui, sans-serif; }
  pre, code { font: 13px/1.5 ui-monospace, monospace; }
  table { border-collapse: collapse; } th, td { padding: 4px 10px; border: 1px solid #8888; text-align: left; }
`;

/** A text in Markdown, as it is meant. HTML in it is text; it stands in a frame in which nothing runs. */
export function MarkdownLook({ text, name }: { text: string; name: string }) {
  const scheme = useComputedColorScheme('light');
  const page = useMemo(() => {
    const html = micromark(text, { extensions: [gfmTable()], htmlExtensions: [gfmTableHtml()] });
    const colours =
      scheme === 'dark' ? 'background: #212427; color: #ebe8e1' : 'background: #fcfbf8; color: #23262b';
    return `<!doctype html><meta charset="utf-8"><style>${STYLE} body { ${colours} }</style>${html}`;
  }, [text, scheme]);
  return <iframe className={classes.frame} title={name} srcDoc={page} sandbox="" />;
}
