/**
 * Pages that are so small, as on a telephone or enlarged twice, are one column that scrolls: neither a table nor the model gets less
 * height than is of use. Style sheets say the same.
 */
export const SMALL = '(max-width: 760px), (max-height: 560px)';
