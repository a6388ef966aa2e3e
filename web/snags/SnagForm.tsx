import { Button } from '@mui/material';
import { SYMPTOMS, type SymptomKey } from '@diurna/core/findings';
import { useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { useDock } from '../outbox/index.ts';
import { Choice, Entry } from '../ui/parts.tsx';
import { useDraft } from '../ui/useDraft.ts';
import { smallPicture } from './picture.ts';

const NOBODY_KNOWS = 'all';

interface Props {
  boatId: number;
  boatName: string;
  engines: { id: number; word: string }[];
  onDone: () => void;
}

/** Trouble seen on a boat: a few words, and a picture where that says more. */
export function SnagForm({ boatId, boatName, engines, onDone }: Props) {
  const [text, setText, clear] = useDraft(`snag ${boatId}`, '');
  const [symptom, setSymptom, clearSymptom] = useDraft<SymptomKey | null>(`snag-trouble ${boatId}`, null);
  const [engineId, setEngineId, clearEngine] = useDraft<number | typeof NOBODY_KNOWS | ''>(`snag-engine ${boatId}`, '');
  const [photo, setPhoto, clearPhoto] = useDraft<{ type: 'image/jpeg'; base64: string } | null>(
    `snag-picture ${boatId}`,
    null,
  );
  const [unread, setUnread] = useState(false);
  const { write } = useDock();
  const [sending, setSending] = useState(false);
  const dispatch = useAppDispatch();
  // A trouble is one engine's, and what follows holds that one: with two the form asks, and one may not know.
  const asksEngine = engines.length > 1 && symptom !== null;
  const send = async () => {
    setSending(true);
    const written = await write({
      boatId,
      boatName,
      kind: 'snag',
      snag: { boatId, engineId: typeof engineId === 'number' ? engineId : null, text: text.trim(), symptom, photo },
    });
    setSending(false);
    if (!written) return;
    clear();
    clearSymptom();
    clearEngine();
    clearPhoto();
    dispatch(say({ tone: 'done', text: `The snag of ${boatName} is written down.` }));
    onDone();
  };
  return (
    <form
      className="snag-form"
      onSubmit={(e) => {
        e.preventDefault();
        void send();
      }}>
      <p className="choice-label" id="symptoms">
        What is wrong on {boatName}
      </p>
      <div className="symptoms" role="group" aria-labelledby="symptoms">
        {SYMPTOMS.map((s) => (
          <button
            key={s.key}
            type="button"
            className="chip"
            aria-pressed={symptom === s.key}
            onClick={() => {
              setSymptom(symptom === s.key ? null : s.key);
            }}>
            {s.word}
          </button>
        ))}
      </div>
      <Entry
        full
        label={symptom ? 'In your words, if you like' : 'Or in your words'}
        lines={3}
        maxLength={1000}
        value={text}
        onType={setText}
      />
      {engines.length > 1 && (
        <Choice
          label="Which engine"
          value={engineId}
          onChange={setEngineId}
          options={[
            ['', asksEngine ? 'choose one' : 'the boat'],
            ...engines.map((e): [number, string] => [e.id, e.word]),
            ...(asksEngine ? [[NOBODY_KNOWS, 'nobody knows: all of them'] as [typeof NOBODY_KNOWS, string]] : []),
          ]}
        />
      )}
      <label className="photo-button">
        {photo ? 'Another picture' : 'Take a picture'}
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="visually-hidden"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file)
              void smallPicture(file).then((p) => {
                setPhoto(p);
                setUnread(p === null);
              });
            // The same one may be chosen again.
            e.target.value = '';
          }}
        />
      </label>
      {photo && <img className="snag-picture" src={`data:${photo.type};base64,${photo.base64}`} alt="What you took" />}
      {unread && (
        <p className="minus" role="alert">
          This picture cannot be read. Take it again.
        </p>
      )}
      <div className="side-acts">
        <Button
          type="submit"
          variant="contained"
          color="primary"
          disabled={(symptom === null && text.trim().length < 3) || (asksEngine && engineId === '') || sending}>
          Report it
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </form>
  );
}
