import { zodResolver } from '@hookform/resolvers/zod';
import { TextField } from '@mui/material';
import { messagesRoutes, type Contact } from '@diurna/contract/messages';
import { Controller, useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say, useAppDispatch } from '../app/store.ts';
import { Field, FormSheet } from '../ui/form.tsx';
import { plural } from '../ui/format.ts';
import { Ticks } from '../ui/Ticks.tsx';
import { messagesApi } from './api.ts';

const body = messagesRoutes.writeMessage.body;

/** A mail written to people outside; who hears of hires is chosen to begin with. */
export function WriteOutside({
  contacts,
  subject = '',
  text = '',
  onClose,
}: {
  contacts: readonly Contact[];
  subject?: string;
  text?: string;
  onClose: () => void;
}) {
  const dispatch = useAppDispatch();
  const [write, { error, isLoading }] = messagesApi.useWriteMessageMutation();
  const { control, handleSubmit } = useForm<z.input<typeof body>>({
    resolver: zodResolver(body),
    defaultValues: { contactIds: contacts.filter((c) => c.hears.includes('hires')).map((c) => c.id), subject, text },
  });
  const send = handleSubmit(async (values) => {
    const answer = await write(values);
    if (!answer.data) return;
    dispatch(
      say({
        tone: 'done',
        text: `${plural(answer.data.sent, 'mail')} on the way. Records, Mail shows whether it went.`,
        link: { to: '/records/mail', word: 'Mail' },
      }),
    );
    onClose();
  });
  return (
    <FormSheet
      title="A mail to people outside"
      act="Send it"
      onClose={onClose}
      onSubmit={() => void send()}
      error={error}
      busy={isLoading}>
      <Controller
        control={control}
        name="contactIds"
        render={({ field, fieldState }) => (
          <Ticks
            label="To"
            options={contacts.map((c) => [
              c.id,
              <span key={c.id}>
                {c.name} <span className="faint">{c.address}</span>
              </span>,
            ])}
            value={field.value}
            onChange={field.onChange}
            wrong={fieldState.error && 'Choose who it goes to.'}
          />
        )}
      />
      <div className="full">
        <Field control={control} name="subject" label="Subject" />
      </div>
      <Controller
        control={control}
        name="text"
        render={({ field, fieldState }) => (
          <TextField
            {...field}
            className="full"
            label="Words"
            multiline
            minRows={5}
            fullWidth
            error={fieldState.invalid}
            helperText={
              fieldState.error ? `Words ${fieldState.error.message}` : 'your name and the company’s stand below'
            }
          />
        )}
      />
    </FormSheet>
  );
}
