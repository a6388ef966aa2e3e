import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { minuteOfField, timeFieldOf } from '@diurna/core/calendar';
import { ROLES, type Role } from '@diurna/contract';
import { peopleRoutes, type Person } from '@diurna/contract/people';
import { useState } from 'react';
import { Controller, useForm } from 'react-hook-form';
import { z } from 'zod';
import type { Reply } from '../app/api.ts';
import { peopleApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { Account } from './Account.tsx';
import { useBases, useMay, useMe } from '../app/useBook.ts';
import { MyMessages, Outside } from '../messages/index.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { Entry, Heads, PageHead, Waiting, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { CalendarAddress, Work } from '../work-calendar/index.ts';
import { RowAct } from '../ui/RowAct.tsx';

const ROLE_WORD: Record<Role, string> = {
  administrator: 'people, bases, settings',
  coordinator: 'decides the work',
  technician: 'works on job cards',
  stores: 'keeps the shelves',
  dock: 'types hours as boats come back',
  manager: 'reads',
};

/** The people of the yard, one's own account, and the settings of the book. */
export function Yard() {
  const me = useMe();
  const bases = useBases();
  const { data: people, error } = peopleApi.useListPeopleQuery();
  const mayKeep = useMay('administrator');
  const maySteer = useMay('administrator', 'coordinator');
  const maySeeWork = useMay('administrator', 'coordinator', 'manager');
  const [open, setOpen] = useState<Person | 'new' | null>(null);
  return (
    <>
      <PageHead
        title="The yard"
        acts={
          mayKeep && (
            <Button
              onClick={() => {
                setOpen('new');
              }}>
              Add a person
            </Button>
          )
        }>
        People, your account{mayKeep ? ' and the settings' : ''}
      </PageHead>
      <Account />
      <MyMessages />
      <section className="block">
        <h2>People</h2>
        <Wrong error={error} />
        {!people && !error && <Waiting />}
        {people && (
          <Lines>
            <Heads of={['Name', 'Signs in as', 'Role', 'Base', { unseen: 'Act' }]} />
            <tbody>
              {people.map((p) => (
                <tr key={p.id} className={p.active ? '' : 'struck'}>
                  <td>
                    <b>{p.name}</b>
                  </td>
                  <td className="figure">{p.username}</td>
                  <td>
                    {p.role} <span className="faint small">{ROLE_WORD[p.role]}</span>
                  </td>
                  <td>{bases.find((b) => b.id === p.baseId)?.name ?? 'any'}</td>
                  <td className="keep">
                    {mayKeep && (
                      <RowAct
                        of={`Edit ${p.name}`}
                        onPress={() => {
                          setOpen(p);
                        }}
                      />
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </Lines>
        )}
      </section>
      {maySeeWork && <Work />}
      {me.role === 'technician' && <CalendarAddress />}
      {maySteer && <Outside />}
      {mayKeep && <Settings />}
      {open !== null && (
        <PersonForm
          {...(open !== 'new' && { person: open })}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
    </>
  );
}

const personForm = peopleRoutes.addPerson.body.extend({
  password: z.union([peopleRoutes.addPerson.body.shape.password, z.literal('')]),
});

function PersonForm({ person, onClose }: { person?: Person; onClose: () => void }) {
  const bases = useBases();
  const [add, adding] = peopleApi.useAddPersonMutation();
  const [edit, editing] = peopleApi.useEditPersonMutation();
  const dispatch = useAppDispatch();
  const { control, handleSubmit } = useForm<z.input<typeof personForm>>({
    resolver: zodResolver(person ? personForm : peopleRoutes.addPerson.body),
    defaultValues: person
      ? {
          name: person.name,
          username: person.username,
          role: person.role,
          baseId: person.baseId,
          active: person.active,
          password: '',
        }
      : { name: '', username: '', role: 'technician', baseId: bases[0]?.id ?? null, active: true, password: '' },
  });
  const save = handleSubmit(async ({ password, ...values }) => {
    const answer = person
      ? await edit({ id: person.id, version: person.version, ...values, ...(password && { password }) })
      : await add({ ...values, password });
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: `${values.name} is in the yard’s list.` }));
    onClose();
  });
  return (
    <FormSheet
      title={person ? `Edit ${person.name}` : 'A new person'}
      act={person ? 'Keep the changes' : 'Add the person'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error}
      busy={adding.isLoading || editing.isLoading}>
      <Field control={control} name="name" label="Name" autoFocus />
      <Field control={control} name="username" label="Signs in as" />
      <Pick control={control} name="role" label="Role" options={ROLES.map((r) => [r, r])} />
      <Pick
        control={control}
        name="baseId"
        label="Base"
        options={[[null, 'any'], ...bases.map((b): [number, string] => [b.id, b.name])]}
      />
      <Pick
        control={control}
        name="active"
        label="In the yard"
        options={[
          [true, 'yes'],
          [false, 'has left'],
        ]}
      />
      <Field
        control={control}
        name="password"
        label={person ? 'New password' : 'Password'}
        kind="password"
        help={person ? 'empty: stays as it is' : 'twelve characters or more'}
        autoComplete="new-password"
      />
      {person && <LostFactor person={person} />}
    </FormSheet>
  );
}

/** For somebody who lost the phone and the codes for recovery. */
function LostFactor({ person }: { person: Person }) {
  const [reset, { error, isSuccess }] = peopleApi.useResetSecondFactorMutation();
  return (
    <div className="full">
      {isSuccess ? (
        <p>The second factor is taken away; {person.name} signs in by password and sets up another.</p>
      ) : (
        <Button onClick={() => void reset(person.id)}>Take a lost second factor away</Button>
      )}
      <Wrong error={error} />
    </div>
  );
}

function Settings() {
  const { data } = peopleApi.useReadSettingsQuery();
  if (!data) return null;
  return <SettingsForm key={data.version} settings={data} />;
}

function SettingsForm({ settings }: { settings: Reply<'readSettings'> }) {
  const [edit, { error, isLoading }] = peopleApi.useEditSettingsMutation();
  const dispatch = useAppDispatch();
  const schema = peopleRoutes.editSettings.body;
  const { control, handleSubmit } = useForm<z.input<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: { ...settings },
  });
  const save = handleSubmit(async (values) => {
    const answer = await edit(values);
    if (answer.data) dispatch(say({ tone: 'done', text: 'The settings are kept.' }));
  });
  return (
    <form
      noValidate
      className="block"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      <h2>Settings</h2>
      <div className="form-grid measure room-below">
        <Field control={control} name="company" label="Company" />
        <Field control={control} name="currency" label="Currency" />
        <Pick
          control={control}
          name="shelfPolicy"
          label="When a job takes more than the shelf has"
          options={[
            ['refuse', 'refuse until the shelf is counted'],
            ['mark', 'let the person go on, and mark it'],
          ]}
        />
        <Pick
          control={control}
          name="secondFactor"
          label="Second factor of administrators and coordinators"
          options={[
            [false, 'as each of them likes'],
            [true, 'asked when they sign in'],
          ]}
        />
        <Pick
          control={control}
          name="clock"
          label="Hours are written"
          options={[
            ['24', '14:30'],
            ['12', '2:30 pm'],
          ]}
        />
        <Pick
          control={control}
          name="weekStarts"
          label="A week begins on"
          options={[
            [1, 'Monday'],
            [7, 'Sunday'],
            [6, 'Saturday'],
          ]}
        />
        <Pick
          control={control}
          name="volumes"
          label="Volumes are written in"
          options={[
            ['litres', 'litres'],
            ['quarts', 'US quarts'],
          ]}
        />
        <Controller
          control={control}
          name="morningMinute"
          render={({ field }) => (
            <Entry
              kind="time"
              label="The morning’s mail goes at"
              value={timeFieldOf(field.value)}
              onType={(text) => {
                field.onChange(minuteOfField(text) ?? field.value);
              }}
            />
          )}
        />
      </div>
      <p className="faint small">What a label prints stands as it is printed, with the other unit beside it.</p>
      <Wrong error={error} />
      <Button type="submit" disabled={isLoading}>
        Keep the settings
      </Button>
    </form>
  );
}
