import layout from './OperationPage.module.css';

/** What was just done, and the button that takes it back. */
export function Applied({ summary, children }: { summary: string; children: React.ReactNode }) {
  return (
    <div className={layout.undo}>
      <span role="status">{summary}.</span>
      {children}
    </div>
  );
}
