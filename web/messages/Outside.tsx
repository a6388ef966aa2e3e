import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { CONTACT_HEARS, messagesRoutes, type Contact } from '@diurna/contract/messages';
import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases } from '../app/useBook.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { Heads, Wrong } from '../ui/parts.tsx';
import { Ticks } from '../ui/Ticks.tsx';
import { Lines } from '../ui/Lines.tsx';
import { messagesApi } from './api.ts';
import { WriteOutside } from './WriteOutside.tsx';
import { RowAct } from '../ui/RowAct.tsx';

const HEARS: Record<Contact['hears'][number], string> = {
  hires: 'when a hire changes boats',
  morning: 'each morning: boats that go out, and what is against it',
};

/** People outside the book who are told by mail: the hire desk, owners, workshops. */
export function Outside() {
  const bases = useBases();
  const { data, error } = messagesApi.useListContactsQuery();
  const [open, setOpen] = useState<Contact | 'new' | null>(null);
  const [writing, setWriting] = useState(false);
  if (!data) return <Wrong error={error} />;
  const { contacts, mail } = data;
  return (
    <section className="block">
      <h2>Told by mail, outside the book</h2>
      {!mail && contacts.length > 0 && (
        <p className="soon">This book sends no mail just now: nobody here is told anything.</p>
      )}
      {contacts.length === 0 && (
        <p className="faint">
          Nobody. The hire desk can hear by mail of hires that change boats, and each morning of boats that cannot go.
        </p>
      )}
      {contacts.length > 0 && (
        <Lines>
          <Heads of={['Name', 'Address', 'Base', 'Hears', { unseen: 'Act' }]} />
          <tbody>
            {contacts.map((c) => (
              <tr key={c.id}>
                <td>
                  <b>{c.name}</b>
                </td>
                <td>{c.address}</td>
                <td>{bases.find((b) => b.id === c.baseId)?.name ?? 'all'}</td>
                <td>{c.hears.length === 0 ? 'what is written by hand' : c.hears.map((h) => HEARS[h]).join('; ')}</td>
                <td className="keep">
                  <RowAct
                    of={`Edit ${c.name}`}
                    onPress={() => {
                      setOpen(c);
                    }}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      <div className="tools">
        <Button
          onClick={() => {
            setOpen('new');
          }}>
          Add somebody
        </Button>
        {mail && contacts.length > 0 && (
          <Button
            onClick={() => {
              setWriting(true);
            }}>
            Write to them
          </Button>
        )}
      </div>
      {open !== null && (
        <ContactForm
          {...(open !== 'new' && { contact: open })}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
      {writing && (
        <WriteOutside
          contacts={contacts}
          onClose={() => {
            setWriting(false);
          }}
        />
      )}
    </section>
  );
}

const body = messagesRoutes.addContact.body;

function ContactForm({ contact, onClose }: { contact?: Contact; onClose: () => void }) {
  const bases = useBases();
  const dispatch = useAppDispatch();
  const [add, adding] = messagesApi.useAddContactMutation();
  const [edit, editing] = messagesApi.useEditContactMutation();
  const [drop, dropping] = messagesApi.useDropContactMutation();
  const { control, handleSubmit } = useForm<z.input<typeof body>>({
    resolver: zodResolver(body),
    defaultValues: contact ?? { name: '', address: '', baseId: null, hears: ['hires'] },
  });
  const done = (text: string) => {
    dispatch(say({ tone: 'done', text }));
    onClose();
  };
  const save = handleSubmit(async ({ name, address, baseId, hears }) => {
    const values = { name, address, baseId, hears };
    const answer = contact ? await edit({ id: contact.id, version: contact.version, ...values }) : await add(values);
    if (answer.data) done(`${name} is told by mail.`);
  });
  return (
    <FormSheet
      title={contact ? `Edit ${contact.name}` : 'Somebody outside the book'}
      act={contact ? 'Keep the changes' : 'Add them'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error ?? dropping.error}
      busy={adding.isLoading || editing.isLoading || dropping.isLoading}>
      <Field control={control} name="name" label="Name" autoFocus />
      <Field control={control} name="address" label="Address of mail" />
      <Pick
        control={control}
        name="baseId"
        label="Hears of"
        options={[[null, 'all bases'], ...bases.map((b): [number, string] => [b.id, b.name])]}
      />
      <Controller
        control={control}
        name="hears"
        render={({ field }) => (
          <Ticks
            label="Is told by itself"
            options={CONTACT_HEARS.map((h) => [h, HEARS[h]])}
            value={field.value}
            onChange={field.onChange}
          />
        )}
      />
      {contact && (
        <div className="full">
          <Button
            onClick={() =>
              void drop({ id: contact.id, version: contact.version }).then((answer) => {
                if (answer.data) done(`${contact.name} is told nothing any more.`);
              })
            }>
            Tell them nothing any more
          </Button>
        </div>
      )}
    </FormSheet>
  );
}
