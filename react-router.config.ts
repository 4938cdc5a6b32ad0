import type { Config } from '@react-router/dev/config';

export default {
  appDirectory: 'app',
  ssr: true,
  // All routes are known from the start: fetchers ask for answers whose pages were never shown.
  routeDiscovery: { mode: 'initial' },
  future: { v8_middleware: true },
} satisfies Config;
