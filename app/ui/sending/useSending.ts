import { useCallback, useEffect, useRef, useState } from 'react';
import { useLocation, useNavigate } from 'react-router';
import { addressIn } from '../address/addresses';
import { sendFiles, type Upload, type UploadProgress } from './upload';

/** Files on their way from this computer: none, some, trouble, or all of them are there. */
export type SendingState =
  | { step: 'none' }
  | { step: 'sending'; progress: UploadProgress }
  | { step: 'failed'; error: string }
  | { step: 'arrived'; upload: string; files: number; then: AfterImport | undefined };

/** One of the files is to be placed in an assembly. */
export interface AfterImport {
  place: string;
  placeIn: string;
}

export interface Sending {
  state: SendingState;
  /** @param then what shall come of them when they are imported */
  send(uploads: Upload[], then?: AfterImport): void;
  /** Says why something cannot be sent. */
  refuse(words: string): void;
  /** Stops what is under way, or puts away what is said. */
  stop(): void;
}

/**
 * Sends files while one looks at other pages of the project. Whoever has stayed is led to what they would change; whoever has gone
 * elsewhere is told that they are there.
 */
export function useSending(projectId: string): Sending {
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [state, setState] = useState<SendingState>({ step: 'none' });
  const abort = useRef(new AbortController());
  const here = useRef(pathname);
  here.current = pathname;
  useEffect(() => () => abort.current.abort(), []);

  const send = useCallback(
    (uploads: Upload[], then?: AfterImport) => {
      if (uploads.length === 0) return;
      abort.current.abort();
      abort.current = new AbortController();
      const { signal } = abort.current;
      const begun = here.current;
      const show = (next: SendingState) => {
        if (!signal.aborted) setState(next);
      };
      sendFiles(projectId, uploads, (progress) => show({ step: 'sending', progress }), signal).then(
        (upload) => {
          if (here.current !== begun) return show({ step: 'arrived', upload, files: uploads.length, then });
          show({ step: 'none' });
          void navigate(importAddress(projectId, upload, then));
        },
        (error: Error) => show({ step: 'failed', error: error.message }),
      );
    },
    [projectId, navigate],
  );
  const refuse = useCallback((error: string) => setState({ step: 'failed', error }), []);
  const stop = useCallback(() => {
    abort.current.abort();
    setState({ step: 'none' });
  }, []);
  return { state, send, refuse, stop };
}

/** The page that shows what files that arrived would change. */
export function importAddress(projectId: string, upload: string, then?: AfterImport): string {
  return addressIn(projectId, 'import', { upload, ...then });
}
