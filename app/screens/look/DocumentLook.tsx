import { useIsHydrated } from '../../ui/useIsHydrated';
import classes from './Look.module.css';

/** A document, in the browser's own viewer where it has one. */
export function DocumentLook({ address, name }: { address: string; name: string }) {
  const hasNoViewer = useIsHydrated() && navigator.pdfViewerEnabled === false;
  if (hasNoViewer)
    return (
      <p className={classes.none} role="status">
        This browser shows no documents in pages. Download {name}, and open it in another program.
      </p>
    );
  return <iframe className={classes.frame} title={name} src={address} />;
}
