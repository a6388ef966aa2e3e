import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { firstRun, type Session } from '@diurna/contract/people';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { peopleApi } from './api.ts';
import { Field, Pick } from '../ui/form.tsx';
import { Wrong } from '../ui/parts.tsx';

/** The first page of an empty book: the company, its first base, and its administrator. */
export function FirstRun({ onDone }: { onDone: (session: Session) => void }) {
  const [begin, { error, isLoading }] = peopleApi.useFirstRunMutation();
  const { control, handleSubmit } = useForm<z.input<typeof firstRun>>({
    resolver: zodResolver(firstRun),
    defaultValues: {
      company: '',
      currency: 'EUR',
      baseName: '',
      timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
      hemisphere: 'north',
      name: '',
      username: '',
      password: '',
    },
  });
  const save = handleSubmit(async (values) => {
    const answer = await begin(values);
    if (answer.data) onDone(answer.data);
  });
  return (
    <form
      noValidate
      className="door-form"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      <h2>This book is empty. Begin it.</h2>
      <Field control={control} name="company" label="Company" autoFocus />
      <div className="form-grid">
        <Field control={control} name="baseName" label="First base" />
        <Field control={control} name="timeZone" label="Its time zone" />
        <Pick
          control={control}
          name="hemisphere"
          label="Hemisphere"
          options={[
            ['north', 'north'],
            ['south', 'south'],
          ]}
        />
        <Field control={control} name="currency" label="Currency" />
      </div>
      <h3>You, the administrator</h3>
      <div className="form-grid">
        <Field control={control} name="name" label="Your name" autoComplete="name" />
        <Field control={control} name="username" label="Name to sign in with" autoComplete="username" />
        <Field
          control={control}
          name="password"
          label="Password"
          kind="password"
          help="twelve characters or more"
          autoComplete="new-password"
        />
      </div>
      <Wrong error={error} />
      <Button type="submit" variant="contained" color="primary" size="large" disabled={isLoading}>
        Begin the book
      </Button>
    </form>
  );
}
