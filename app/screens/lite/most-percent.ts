/** Percent of the whole that the chart of sizes reaches to. */
export const MOST_PERCENT = 15;
