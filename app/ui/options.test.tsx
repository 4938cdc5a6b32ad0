import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import { screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { renderPage } from '../testing/render';
import { distinct, SegmentedControl, Select } from './options';

describe('options', () => {
  it('of one value are one option, the first', () => {
    expect(distinct(['a', 'b', 'a'])).toEqual(['a', 'b']);
    expect(
      distinct([
        { value: '7', label: 'SOLID' },
        { value: '8', label: 'SOLID' },
        { value: '7', label: 'again' },
      ]),
    ).toEqual([
      { value: '7', label: 'SOLID' },
      { value: '8', label: 'SOLID' },
    ]);
  });

  it('end no page, whatever is called alike', () => {
    renderPage(
      <>
        <Select aria-label="Product" data={['SOLID', 'SOLID']} value="SOLID" onChange={() => {}} />
        <SegmentedControl aria-label="Table" data={['Bodies', 'Bodies']} value="Bodies" />
      </>,
    );
    expect((screen.getByRole('combobox', { name: 'Product' }) as HTMLInputElement).value).toBe('SOLID');
    expect(screen.getAllByRole('radio')).toHaveLength(1);
  });

  it('are offered by these alone', () => {
    const app = path.join(import.meta.dirname, '..');
    const others = readdirSync(app, { recursive: true, encoding: 'utf8' })
      .filter((file) => /\.tsx$/.test(file) && !/(several-)?options\.(test\.)?tsx$/.test(file))
      .filter((file) =>
        /import \{[^}]*\b(Select|MultiSelect|SegmentedControl)\b[^}]*\} from '@mantine\/core'/.test(
          readFileSync(path.join(app, file), 'utf8'),
        ),
      );
    expect(others).toEqual([]);
  });
});
