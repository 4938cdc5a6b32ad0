import { VisuallyHidden } from '@mantine/core';

/** The heading of a page whose place in the navigation says enough to those who see it. */
export function PageTitle({ children }: { children: React.ReactNode }) {
  return <VisuallyHidden component="h1">{children}</VisuallyHidden>;
}
