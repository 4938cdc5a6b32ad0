import {
  ActionIcon,
  Menu,
  UnstyledButton,
  useComputedColorScheme,
  useMantineColorScheme,
} from '@mantine/core';
import { IconChevronDown, IconMoon, IconSun, IconUser } from '@tabler/icons-react';
import { Form, Link } from 'react-router';
import classes from './TopBar.module.css';
import { Wordmark } from './Wordmark';

interface TopBarProps {
  user: string;
  /** What stands at the right, before the person. */
  tools?: React.ReactNode;
  children?: React.ReactNode;
}

/** The bar at the top of every page: where one is, and who one is. */
export function TopBar({ user, tools, children }: TopBarProps) {
  const { setColorScheme } = useMantineColorScheme();
  const scheme = useComputedColorScheme('light');
  return (
    <header className={classes.bar}>
      <Link to="/projects" className={classes.home} aria-label="Stone Tray: all projects">
        <Wordmark />
      </Link>
      {children}
      <span className={classes.space} />
      {tools}
      <ActionIcon
        variant="subtle"
        color="gray"
        aria-label={scheme === 'dark' ? 'Light colours' : 'Dark colours'}
        onClick={() => setColorScheme(scheme === 'dark' ? 'light' : 'dark')}
      >
        {scheme === 'dark' ? <IconSun size={16} /> : <IconMoon size={16} />}
      </ActionIcon>
      <Menu position="bottom-end">
        <Menu.Target>
          <UnstyledButton className={classes.user} aria-label={user}>
            <IconUser size={16} className={classes.userIcon} aria-hidden="true" />
            <span className={classes.userName}>{user}</span> <IconChevronDown size={14} />
          </UnstyledButton>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item component={Link} to="/account">
            Account
          </Menu.Item>
          <Form method="post" action="/sign-out">
            <Menu.Item component="button" type="submit">
              Sign out
            </Menu.Item>
          </Form>
        </Menu.Dropdown>
      </Menu>
    </header>
  );
}
