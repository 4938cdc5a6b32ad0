import type { Kernel } from '#core/geometry/shape/kernel';
import { ThreadedKernel } from '#core/geometry/shape/threaded-kernel';

/** The kernel of all tests of a process: starting one, and making its WebAssembly fast, takes longer than most tests. */
export const kernel: Kernel = new ThreadedKernel();
