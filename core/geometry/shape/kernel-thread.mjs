// Worker threads start from plain JavaScript; this lets the thread's TypeScript be loaded.
import { register } from 'tsx/esm/api';

register();
await import('./kernel-thread.ts');
