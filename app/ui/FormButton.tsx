import { Button, type ButtonProps } from '@mantine/core';
import { Form } from 'react-router';

interface FormButtonProps extends ButtonProps {
  /** What is sent to the page's action. */
  fields: { readonly [name: string]: string };
  'aria-label'?: string;
  children: React.ReactNode;
}

/** A button that is a form of its own: it works before any script has come. */
export function FormButton({ fields, ...button }: FormButtonProps) {
  return (
    <Form method="post">
      {Object.entries(fields).map(([name, value]) => (
        <input key={name} type="hidden" name={name} value={value} />
      ))}
      <Button type="submit" variant="default" {...button} />
    </Form>
  );
}
