import { zodResolver } from '@hookform/resolvers/zod';
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { peopleRoutes } from '@diurna/contract/people';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { say, useAppDispatch, useAppSelector } from '../app/store.ts';
import { useMe } from '../app/useBook.ts';
import { Field, FormSheet } from '../ui/form.tsx';
import { clockText, plural } from '../ui/format.ts';
import { Heads, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { peopleApi } from './api.ts';
import { SecondFactor } from './SecondFactor.tsx';
import { useLeave } from './useLeave.ts';

/** One's own account: password, second factor, and where one is signed in. */
export function Account() {
  const me = useMe();
  const [changing, setChanging] = useState(false);
  const [leaving, setLeaving] = useState(false);
  const unsent = useAppSelector((s) => s.outbox.waiting.filter((w) => w.personId === me.id).length);
  const { signOut, signOutEverywhere } = useLeave();
  return (
    <>
      <section className="block">
        <h2>You are {me.name}</h2>
        {unsent > 0 && (
          <p className="soon">
            {plural(unsent, 'entry', 'entries')} of yours have not reached the book yet. They stay on this device and
            are sent when you sign in again here.
          </p>
        )}
        <div className="tools">
          <Button
            onClick={() => {
              if (unsent > 0) setLeaving(true);
              else void signOut();
            }}>
            Sign out
          </Button>
          <Button onClick={() => void signOutEverywhere()}>Sign out on all devices</Button>
          <Button
            onClick={() => {
              setChanging(true);
            }}>
            Change your password
          </Button>
        </div>
      </section>
      <Devices />
      <SecondFactor />
      {leaving && (
        <Dialog
          open
          onClose={() => {
            setLeaving(false);
          }}
          aria-labelledby="leaving">
          <DialogTitle id="leaving">Sign out with {plural(unsent, 'entry', 'entries')} on the way?</DialogTitle>
          <DialogContent>
            <p>
              {unsent === 1 ? 'It has' : 'They have'} not reached the book. {unsent === 1 ? 'It stays' : 'They stay'} on
              this device and {unsent === 1 ? 'goes' : 'go'} when you sign in here again; nobody else sees or sends{' '}
              {unsent === 1 ? 'it' : 'them'}.
            </p>
          </DialogContent>
          <DialogActions>
            <Button variant="contained" onClick={() => void signOut()}>
              Sign out all the same
            </Button>
            <Button
              onClick={() => {
                setLeaving(false);
              }}>
              Stay
            </Button>
          </DialogActions>
        </Dialog>
      )}
      {changing && (
        <Password
          onClose={() => {
            setChanging(false);
          }}
        />
      )}
    </>
  );
}

/** Where one is signed in; each can be signed out by itself. */
function Devices() {
  const { data: devices } = peopleApi.useListDevicesQuery();
  const [end, { error }] = peopleApi.useEndDeviceMutation();
  if (!devices) return null;
  return (
    <section className="block">
      <h2>Where you are signed in</h2>
      <Lines>
        <Heads of={['Device', 'Since', 'Last used', { unseen: 'Act' }]} />
        <tbody>
          {devices.map((d) => (
            <tr key={d.key}>
              <td>
                <b>{d.device}</b> {d.shared && <span className="faint small">shared with others</span>}
              </td>
              <td className="figure">{clockText(d.begun)}</td>
              <td className="figure">{d.here ? 'now, here' : clockText(d.seen)}</td>
              <td className="keep">
                {!d.here && (
                  <button
                    type="button"
                    className="link-button"
                    aria-label={`Sign out ${d.device}`}
                    onClick={() => void end(d.key)}>
                    sign out
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
      <Wrong error={error} />
    </section>
  );
}

function Password({ onClose }: { onClose: () => void }) {
  const [change, { error, isLoading }] = peopleApi.useChangePasswordMutation();
  const dispatch = useAppDispatch();
  const schema = peopleRoutes.changePassword.body;
  const { control, handleSubmit } = useForm<z.input<typeof schema>>({
    resolver: zodResolver(schema),
    defaultValues: { current: '', next: '' },
  });
  const save = handleSubmit(async (values) => {
    const answer = await change(values);
    if (!answer.data) return;
    dispatch(say({ tone: 'done', text: 'The password is changed; your other devices are signed out.' }));
    onClose();
  });
  return (
    <FormSheet
      title="Change your password"
      act="Change it"
      onClose={onClose}
      onSubmit={() => void save()}
      error={error}
      busy={isLoading}>
      <Field
        control={control}
        name="current"
        label="Present password"
        kind="password"
        autoFocus
        autoComplete="current-password"
      />
      <Field
        control={control}
        name="next"
        label="New password"
        kind="password"
        help="twelve characters or more"
        autoComplete="new-password"
      />
    </FormSheet>
  );
}
