import type { useFetcher } from 'react-router';

type Json = Parameters<ReturnType<typeof useFetcher>['submit']>[0];

/** Plain data for a fetcher that sends JSON. */
export const asRequest = (request: object): Json => JSON.parse(JSON.stringify(request)) as Json;
