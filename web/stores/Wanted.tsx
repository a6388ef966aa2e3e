import { Button } from '@mui/material';
import type { WantedPart } from '@diurna/contract/stores';
import { addDays } from '@diurna/core/calendar';
import { engineName } from '@diurna/core/fleet';
import { TASKS } from '@diurna/core/service';
import { useState } from 'react';
import { Link } from 'react-router';
import { storesApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useToday, useShort } from '../app/useBook.ts';
import { fullDay, plural, quantityText } from '../ui/format.ts';
import { AskReason, Choice, Entry, Wrong } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { parseAmount } from '@diurna/core/units';
import { Box } from '../ui/Box.tsx';

/** Days an order takes where nobody knows better. */
const USUAL_DAYS = 3;

/** What findings on cards ask for: ordered here, or said not to be needed. */
export function Wanted({ baseId, mayKeep }: { baseId: number | ''; mayKeep: boolean }) {
  const short = useShort();
  const { data = [] } = storesApi.useListWantedQuery(baseId === '' ? {} : { baseId });
  const [open, setOpen] = useState<number | null>(null);
  if (data.length === 0) return null;
  return (
    <section className="block" aria-label="Asked for by cards">
      <h2>
        Asked for by cards <small className="faint">{plural(data.length, 'request')}</small>
      </h2>
      <ul className="plain-list wanted">
        {data.map((w) => (
          <li key={w.id}>
            <div className="wanted-line">
              <TaskGlyph task={w.task} silent />
              <div>
                <p>
                  <b>{engineName(w.boatName, w.position)}</b>, {TASKS[w.task].word.toLowerCase()}. {w.why}
                </p>
                <p className="faint">
                  Serial {w.serial}, {w.baseName}. {w.by ? `${short(w.by)}, ` : ''}
                  {fullDay(w.at.slice(0, 10))}
                  {w.jobId && (
                    <>
                      , <Link to={`/jobs/${w.jobId}`}>the card</Link>
                    </>
                  )}
                </p>
                {w.parts.length === 0 && (
                  <p className="soon">
                    No part is known to fit this serial. Find it on the label, add it here with what it fits, then order
                    it.
                  </p>
                )}
                {w.parts.map((p) => (
                  <p key={p.partId}>
                    <Link to={`/stores/parts/${p.partId}`}>{p.number}</Link> {p.name}:{' '}
                    <span className="figure">{quantityText(p.quantity, p.unit)}</span> wanted,{' '}
                    {quantityText(p.onHand, p.unit)} on the shelf
                    {p.onTheWay > 0 && `, ${quantityText(p.onTheWay, p.unit)} on the way`}
                  </p>
                ))}
              </div>
              {mayKeep && open !== w.id && (
                <span className="row-acts">
                  <Button
                    size="small"
                    aria-label={`See to it: parts for ${engineName(w.boatName, w.position)}`}
                    onClick={() => {
                      setOpen(w.id);
                    }}>
                    See to it
                  </Button>
                </span>
              )}
            </div>
            {open === w.id && (
              <SeeTo
                wanted={w}
                onClose={() => {
                  setOpen(null);
                }}
              />
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function SeeTo({ wanted: w, onClose }: { wanted: WantedPart; onClose: () => void }) {
  const today = useToday();
  const [day, setDay] = useState(addDays(today, USUAL_DAYS));
  // What the shelf and the orders under way do not cover anyway.
  const [amounts, setAmounts] = useState<Record<number, string>>(() =>
    Object.fromEntries(
      w.parts.map((p) => [p.partId, String(Math.max(0, p.quantity - Math.max(0, p.onHand) - p.onTheWay))]),
    ),
  );
  // What is wanted may be none of what the task takes: a screw, a clip.
  const { data: shelf } = storesApi.useListPartsQuery({ page: 1, size: 200 });
  const [more, setMore] = useState<number[]>([]);
  const [not, setNot] = useState(false);
  const [close, { isLoading, error }] = storesApi.useCloseWantedMutation();
  const dispatch = useAppDispatch();
  const parts: { partId: number; number: string; unit: 'each' | 'mL' }[] = [
    ...w.parts,
    ...more.flatMap((id) => {
      const p = shelf?.rows.find((x) => x.id === id);
      return p ? [{ partId: p.id, number: p.number, unit: p.unit }] : [];
    }),
  ];
  const lines = parts.map((p) => ({ partId: p.partId, quantity: parseAmount(amounts[p.partId] ?? '') }));
  const bad = lines.some((l) => l.quantity === null);
  const ordered = lines.flatMap((l) =>
    l.quantity !== null && l.quantity > 0 ? [{ partId: l.partId, quantity: l.quantity }] : [],
  );
  const order = async () => {
    const answer = await close({ id: w.id, act: 'order', day, lines: ordered });
    if (!answer.data) return;
    dispatch(
      say({
        tone: 'done',
        text: `Ordered for ${engineName(w.boatName, w.position)}, expected on ${fullDay(day)}: plans count on it.`,
      }),
    );
    onClose();
  };
  return (
    <form
      className="shelf-form"
      onSubmit={(e) => {
        e.preventDefault();
        void order();
      }}>
      {parts.map((p) => (
        <label key={p.partId} className="choice">
          <span className="choice-label">
            Order {p.number}
            {p.unit === 'mL' ? ', mL' : ''}
          </span>
          <Box
            figure
            short
            value={amounts[p.partId] ?? ''}
            onChange={(e) => {
              setAmounts({ ...amounts, [p.partId]: e.target.value });
            }}
          />
        </label>
      ))}
      <Choice
        label="Another part"
        value=""
        onChange={(id) => {
          if (id === '') return;
          setMore([...more, id]);
          setAmounts({ ...amounts, [id]: '1' });
        }}
        options={[
          ['', 'choose'],
          ...(shelf?.rows ?? [])
            .filter((p) => !parts.some((x) => x.partId === p.id))
            .map((p): [number, string] => [p.id, `${p.number} ${p.name}`]),
        ]}
      />
      {parts.length > 0 && <Entry kind="date" label="Expected" value={day} min={today} onType={setDay} />}
      {parts.length > 0 && (
        <Button
          type="submit"
          variant="contained"
          color="primary"
          disabled={bad || ordered.length === 0 || day === '' || isLoading}>
          Note the order
        </Button>
      )}
      <Button
        onClick={() => {
          setNot(true);
        }}>
        No order is needed
      </Button>
      <Button onClick={onClose}>Leave it</Button>
      {bad && (
        <span className="minus" role="status">
          Figures only.
        </span>
      )}
      <Wrong error={error} />
      {not && (
        <AskReason
          open
          title="No order is needed"
          act="Settle it"
          error={error}
          sentence={`Parts for ${engineName(w.boatName, w.position)}. The reason stays in the book.`}
          onClose={() => {
            setNot(false);
          }}
          onGive={(because) => {
            void close({ id: w.id, act: 'not needed', because }).then((a) => {
              if (a.data) onClose();
            });
          }}
        />
      )}
    </form>
  );
}
