import { AllTheSame } from './Against.tsx';
import { Button } from '@mui/material';
import { stepAtHand, type CardAct } from '@diurna/core/visit';
import { useEffect, useRef, useState } from 'react';
import { peopleApi } from '../people/api.ts';
import { visitApi } from '../visit/api.ts';
import { now } from '../app/clock.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay, useMe, useShort } from '../app/useBook.ts';
import { takenPicture } from '../snags/index.ts';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import type { LiveCard } from './live-card.ts';
import { MoreWork } from './MoreWork.tsx';
import type { Taken } from '../outbox/index.ts';

interface Props {
  live: LiveCard;
  write: (act: CardAct, picture?: Taken) => Promise<void>;
  onClose: () => void;
}

/** Something is not as it should be: a remark, a picture, a pause, a hold, or the card goes to a colleague. */
export function Trouble({ live, write, onClose }: Props) {
  const { card, state } = live;
  const [remark, setRemark] = useState(state.remark ?? '');
  const [why, setWhy] = useState('');
  const [holding, setHolding] = useState<number | ''>(card.engines.length === 1 ? card.engines[0]!.id : '');
  const [holdWhy, setHoldWhy] = useState('');
  const [unread, setUnread] = useState(false);
  const dispatch = useAppDispatch();
  const paused = state.pauses.at(-1)?.to === null;
  // Whoever came by keyboard goes on from here.
  const head = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    head.current?.focus();
  }, []);
  const take = async (file: File) => {
    const picture = await takenPicture(file);
    setUnread(picture === null);
    if (!picture) return;
    await write({ kind: 'photo', step: stepAtHand(live, now()).at?.step.id ?? null, photoId: null }, picture);
    dispatch(say({ tone: 'done', text: 'The picture is on the card.' }));
  };
  return (
    <section className="trouble" aria-label="Something wrong">
      <div className="trouble-head">
        <h2 ref={head} tabIndex={-1}>
          Something wrong
        </h2>
        <Button size="small" onClick={onClose}>
          Back to the steps
        </Button>
      </div>
      <Entry full label="Remark, for the next one" lines={3} value={remark} maxLength={2000} onType={setRemark} />
      <div className="tools">
        <Button
          variant="contained"
          color="primary"
          disabled={remark.trim() === (state.remark ?? '')}
          onClick={() => {
            void write({ kind: 'remark', text: remark.trim() });
            onClose();
          }}>
          Keep the remark
        </Button>
        <label className="photo-button">
          Take a picture
          <input
            type="file"
            accept="image/*"
            capture="environment"
            className="visually-hidden"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) void take(file);
              // The same one may be chosen again.
              e.target.value = '';
            }}
          />
        </label>
      </div>
      {unread && (
        <p className="minus" role="alert">
          This picture cannot be read. Take it again.
        </p>
      )}
      <h3>Pause</h3>
      {paused ? (
        <Button
          onClick={() => {
            void write({ kind: 'pause', on: false, why: null });
            onClose();
          }}>
          Go on
        </Button>
      ) : (
        <div className="tools">
          <Entry
            label="What it waits for"
            value={why}
            maxLength={200}
            placeholder="a part, a second person, the boat"
            onType={setWhy}
          />
          <Button
            onClick={() => {
              void write({ kind: 'pause', on: true, why: why.trim() || null });
              onClose();
            }}>
            Pause the card
          </Button>
        </div>
      )}
      <h3>The engine must not go out</h3>
      <div className="tools">
        {card.engines.length > 1 && (
          <Choice
            label="Engine"
            value={holding}
            onChange={setHolding}
            options={[['', 'which?'], ...card.engines.map((e): [number, string] => [e.id, e.position])]}
          />
        )}
        <Entry label="Why it is held" value={holdWhy} maxLength={500} onType={setHoldWhy} />
        <Button
          color="error"
          disabled={holding === '' || holdWhy.trim().length < 3}
          onClick={() => {
            void write({ kind: 'hold', engineId: holding as number, why: holdWhy.trim() });
            onClose();
          }}>
          Hold the engine
        </Button>
      </div>
      <MoreWork live={live} write={write} onDone={onClose} />
      <HandOver live={live} onDone={onClose} />
    </section>
  );
}

/** The card goes to a colleague as it stands. */
export function HandOver({ live: { card }, onDone }: { live: LiveCard; onDone?: () => void }) {
  const short = useShort();
  const me = useMe();
  const mayTakeBack = useMay('administrator', 'coordinator');
  const mayHand = mayTakeBack || card.technicianId === me.id;
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const [to, setTo] = useState<number | ''>('');
  const [note, setNote] = useState('');
  const [handOver, { isLoading, error }] = visitApi.useHandOverMutation();
  const dispatch = useAppDispatch();
  if (!mayHand) return null;
  const hands = people.filter((p) => p.active && p.role === 'technician' && p.id !== card.technicianId);
  const give = (insist?: string) => {
    if (to === '') return;
    void handOver({
      id: card.id,
      version: card.version,
      technicianId: to,
      note: note.trim() || null,
      ...(insist !== undefined && { insist }),
    }).then((a) => {
      if (!a.data) return;
      dispatch(
        say({
          tone: 'done',
          text: `${card.boatName} is now with ${short(hands.find((h) => h.id === to)?.name ?? 'them')}, as it stands.`,
          changeId: mayTakeBack ? a.data.changeId : null,
        }),
      );
      onDone?.();
    });
  };
  return (
    <>
      <h3>Hand the card over</h3>
      <div className="tools">
        <Choice
          label="To"
          value={to}
          onChange={setTo}
          options={[['', 'a colleague'], ...hands.map((h): [number, string] => [h.id, h.name])]}
        />
        <Entry label="Word to them" value={note} maxLength={500} onType={setNote} />
        <Button
          disabled={to === '' || isLoading}
          onClick={() => {
            give();
          }}>
          Hand it over
        </Button>
      </div>
      <Wrong error={error} />
      <AllTheSame error={error} onGive={give} />
    </>
  );
}
