import { ActionIcon } from '@mantine/core';
import { IconStar, IconStarFilled } from '@tabler/icons-react';
import { useFetcher } from 'react-router';
import { addressIn } from '../address/addresses';

interface StarProps {
  projectId: string;
  /** The file; left out for the project itself. */
  path?: string;
  /** What it is called. */
  name: string;
  isStarred: boolean;
}

/** Marks a file or a project for whoever looks, so that it is found again at once. */
export function Star({ projectId, path, name, isStarred: before }: StarProps) {
  const { submit, formData } = useFetcher({ key: `star ${projectId} ${path ?? ''}` });
  // What was asked for is shown before it is there.
  const isStarred = formData ? formData.get('starred') === 'yes' : before;
  const toggle = () =>
    void submit(
      { ...(path !== undefined && { path }), starred: isStarred ? 'no' : 'yes' },
      { method: 'post', action: addressIn(projectId, 'star') },
    );
  return (
    <ActionIcon
      variant="subtle"
      color="gray"
      size={28}
      aria-label={`Star ${name}`}
      aria-pressed={isStarred}
      title={isStarred ? 'Take the star away' : 'Star it: you find it again among those with a star'}
      onClick={toggle}
    >
      {isStarred ? (
        <IconStarFilled size={16} color="var(--st-behind)" aria-hidden />
      ) : (
        <IconStar size={16} aria-hidden />
      )}
    </ActionIcon>
  );
}
