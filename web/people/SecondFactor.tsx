import { Button, TextField } from '@mui/material';
import { QRCodeSVG } from 'qrcode.react';
import { useState, type SyntheticEvent } from 'react';
import { saveFile } from '../ui/save.ts';
import { Wrong } from '../ui/parts.tsx';
import { peopleApi } from './api.ts';
import './factor.css';

const submitting = (act: () => Promise<unknown>) => (e: SyntheticEvent) => {
  e.preventDefault();
  void act();
};

/** The secret in groups of four, as one types it where no picture can be taken. */
const inFours = (secret: string) => secret.replace(/.{4}(?=.)/g, '$& ');

/** Sets a second factor up: the password, the picture for the authenticator, its first code, the codes for recovery. */
export function SetUpSecondFactor({ onDone }: { onDone: () => void }) {
  const [begin, beginning] = peopleApi.useBeginSecondFactorMutation();
  const [confirm, confirming] = peopleApi.useConfirmSecondFactorMutation();
  const [password, setPassword] = useState('');
  const [code, setCode] = useState('');
  const shown = beginning.data;
  const recovery = confirming.data?.recoveryCodes;
  if (recovery)
    return (
      <div className="factor">
        <h3>Keep these codes where the phone is not</h3>
        <p>Each opens the book once, in place of a code of the authenticator. They are shown this one time.</p>
        <ol className="factor-codes" aria-label="Codes for recovery">
          {recovery.map((c) => (
            <li key={c} className="figure">
              {c}
            </li>
          ))}
        </ol>
        <div className="tools">
          <Button
            onClick={() => {
              saveFile('diurna-recovery-codes.txt', [`${recovery.join('\n')}\n`], 'text/plain');
            }}>
            Save them as a file
          </Button>
          <Button variant="contained" color="primary" onClick={onDone}>
            I have kept them
          </Button>
        </div>
      </div>
    );
  if (!shown)
    return (
      <form className="factor" onSubmit={submitting(() => begin({ password }))}>
        <p>
          After the password you then type six figures that an authenticator on your phone shows. Any program for such
          codes will do.
        </p>
        <TextField
          label="Your password"
          type="password"
          value={password}
          onChange={(e) => {
            setPassword(e.target.value);
          }}
          autoComplete="current-password"
          required
        />
        <Wrong error={beginning.error} />
        <div className="tools">
          <Button type="submit" variant="contained" color="primary" disabled={beginning.isLoading}>
            Set it up
          </Button>
        </div>
      </form>
    );
  return (
    <form className="factor" onSubmit={submitting(() => confirm({ code }))}>
      <div className="factor-picture">
        <QRCodeSVG value={shown.uri} size={172} marginSize={2} title="For the authenticator" />
        <p>
          Let the authenticator read this picture, or type into it:
          <br />
          <b className="figure">{inFours(shown.secret)}</b>
        </p>
      </div>
      <TextField
        label="The six figures it shows"
        value={code}
        onChange={(e) => {
          setCode(e.target.value);
        }}
        autoComplete="one-time-code"
        required
        autoFocus
        slotProps={{ htmlInput: { inputMode: 'numeric' } }}
      />
      <Wrong error={confirming.error} />
      <div className="tools">
        <Button type="submit" variant="contained" color="primary" disabled={confirming.isLoading}>
          Confirm
        </Button>
      </div>
    </form>
  );
}

/** Whether one shows a second factor; sets it up, and ends it where the yard does not ask for it. */
export function SecondFactor() {
  const { data } = peopleApi.useReadSecondFactorQuery();
  const [end, ending] = peopleApi.useEndSecondFactorMutation();
  const [open, setOpen] = useState<'set up' | 'end' | null>(null);
  const [password, setPassword] = useState('');
  if (!data) return null;
  const close = () => {
    setOpen(null);
    setPassword('');
  };
  return (
    <section className="block">
      <h2>Second factor</h2>
      {open === 'set up' ? (
        <SetUpSecondFactor onDone={close} />
      ) : data.on ? (
        <>
          <p>
            On: you type a code of your authenticator when you sign in. {data.recoveryLeft} of 10 codes for recovery are
            left.
            {data.asked && ' The yard asks it of your role.'}
          </p>
          {open === 'end' ? (
            <form
              className="factor"
              onSubmit={submitting(async () => {
                if ((await end({ password })).data) close();
              })}>
              <TextField
                label="Your password"
                type="password"
                value={password}
                onChange={(e) => {
                  setPassword(e.target.value);
                }}
                autoComplete="current-password"
                autoFocus
                required
              />
              <Wrong error={ending.error} />
              <div className="tools">
                <Button type="submit" disabled={ending.isLoading}>
                  End the second factor
                </Button>
                <Button onClick={close}>Leave it</Button>
              </div>
            </form>
          ) : (
            !data.asked && (
              <Button
                onClick={() => {
                  setOpen('end');
                }}>
                Sign in by password alone
              </Button>
            )
          )}
        </>
      ) : (
        <>
          <p>Off: your password alone opens the book.</p>
          <Button
            onClick={() => {
              setOpen('set up');
            }}>
            Set up a second factor
          </Button>
        </>
      )}
    </section>
  );
}
