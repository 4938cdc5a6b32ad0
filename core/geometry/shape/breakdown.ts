/** Whether the kernel itself broke down: its memory is not to be trusted any more, and whoever runs it starts another. */
export function isBreakdown(error: unknown): boolean {
  return error instanceof WebAssembly.RuntimeError;
}
