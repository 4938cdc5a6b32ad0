import { Button } from '@mantine/core';
import type { useOperation } from '../../ui/operation/useOperation';
import { TaskBar } from '../../ui/task/TaskBar';
import classes from './Catalogue.module.css';

interface OfferLookProps<Preview> {
  operation: ReturnType<typeof useOperation<Preview>>;
  /** The words on the button that does it. */
  label: string;
  /** Whether what was chosen cannot be asked for. */
  disabled?: boolean;
  onClose: () => void;
  /** What it would do, of a plan that was not refused. */
  children: (preview: Preview) => React.ReactNode;
}

/** What an operation on the catalogue would do, what stands in its way, and the buttons that do it or leave it. */
export function OfferLook<Preview>({
  operation: { planned, refusal, isStale, progress, work, stop, apply },
  label,
  disabled = false,
  onClose,
  children,
}: OfferLookProps<Preview>) {
  const trouble = refusal ?? work.error;
  return (
    <div className={classes.look}>
      {trouble !== null && (
        <p className={classes.error} role="alert">
          {trouble}
        </p>
      )}
      {progress && <TaskBar progress={progress} label="Looking at what changes" onCancel={stop} />}
      {planned && trouble === null && children(planned.preview)}
      <Button
        size="compact-sm"
        disabled={!planned || disabled || isStale || trouble !== null}
        onClick={() => void apply().then((done) => done && onClose())}
      >
        {label}
      </Button>
      <Button size="compact-sm" variant="subtle" color="gray" onClick={onClose}>
        Not now
      </Button>
    </div>
  );
}
