import { storesApi } from './api.ts';
import { Button } from '@mui/material';
import type { Part } from '@diurna/contract/stores';
import { addDays } from '@diurna/core/calendar';
import { useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMe, useToday } from '../app/useBook.ts';
import { parseAmount } from '@diurna/core/units';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { fullDay, quantityText } from '../ui/format.ts';
import { Entry, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';

const USUAL_DAYS = 7;

/** Orders of a part with the day they are expected: plans count on them. */
export function OnTheWay({ part, mayKeep }: { part: Part; mayKeep: boolean }) {
  const bases = useBases();
  const me = useMe();
  const today = useToday();
  const dispatch = useAppDispatch();
  const { data } = storesApi.useListArrivalsQuery({ partId: part.id }, { skip: me.role === 'dock' });
  const [add, adding] = storesApi.useAddArrivalMutation();
  const [close, closing] = storesApi.useCloseArrivalMutation();
  const [baseId, setBase] = useState<number | ''>(me.baseId ?? bases[0]?.id ?? '');
  const [day, setDay] = useState(addDays(today, USUAL_DAYS));
  const [amount, setAmount] = useState('');
  const quantity = parseAmount(amount);
  /** The order that is being put on the shelf, with what came of it. */
  const [coming, setComing] = useState<{ id: number; text: string } | null>(null);
  const came = parseAmount(coming?.text ?? '');
  if (!data) return null;
  const send = async () => {
    if (quantity === null || baseId === '') return;
    const answer = await add({ partId: part.id, baseId, day, quantity, note: null });
    if (!answer.data) return;
    setAmount('');
    dispatch(
      say({
        tone: 'done',
        text: `${quantityText(quantity, part.unit)} of ${part.number} expected on ${fullDay(day)}: plans count on it.`,
      }),
    );
  };
  const put = async (id: number) => {
    if (came === null) return;
    const answer = await close({ id, received: came });
    if (!answer.data) return;
    setComing(null);
    dispatch(say({ tone: 'done', text: `${quantityText(came, part.unit)} of ${part.number} put on the shelf.` }));
  };
  return (
    <section className="block">
      <h2>On the way</h2>
      {data.length === 0 && <p className="faint">Nothing is ordered.</p>}
      <Lines>
        <tbody>
          {data.map((a) => (
            <tr key={a.id}>
              <td className="figure">
                {fullDay(a.day)}
                {a.day < today && <span className="minus"> late</span>}
              </td>
              <td>{bases.find((b) => b.id === a.baseId)?.name}</td>
              <td className="num figure">{quantityText(a.quantity, part.unit)}</td>
              <td className="faint">
                {[a.fromBaseId !== null && `sent from ${bases.find((b) => b.id === a.fromBaseId)?.name ?? ''}`, a.note]
                  .filter(Boolean)
                  .join(', ')}
              </td>
              <td className="keep">
                {mayKeep &&
                  (coming?.id === a.id ? (
                    <form
                      className="tools"
                      onSubmit={(e) => {
                        e.preventDefault();
                        void put(a.id);
                      }}>
                      <Entry
                        kind="figure"
                        short
                        label={part.unit === 'mL' ? 'Came (mL)' : 'Came'}
                        autoFocus
                        value={coming.text}
                        onType={(text) => {
                          setComing({ ...coming, text });
                        }}
                      />
                      <Button type="submit" size="small" disabled={came === null || came <= 0 || closing.isLoading}>
                        Put on the shelf
                      </Button>
                      <Button
                        size="small"
                        onClick={() => {
                          setComing(null);
                        }}>
                        Not yet
                      </Button>
                    </form>
                  ) : (
                    <>
                      <button
                        type="button"
                        className="link-button"
                        onClick={() => {
                          setComing({ id: a.id, text: String(a.quantity) });
                        }}>
                        it has come
                      </button>{' '}
                      <button
                        type="button"
                        className="link-button"
                        disabled={closing.isLoading}
                        onClick={() => void close({ id: a.id, received: 0 })}>
                        it will not come
                      </button>
                    </>
                  ))}
              </td>
            </tr>
          ))}
        </tbody>
      </Lines>
      {mayKeep && (
        <div className="tools above-s">
          <Entry
            kind="figure"
            short
            label={part.unit === 'mL' ? 'Ordered (mL)' : 'Ordered'}
            value={amount}
            onType={setAmount}
          />
          <BaseChoice label="For" value={baseId} onChange={setBase} />
          <Entry kind="date" label="Expected" value={day} min={today} onType={setDay} />
          <Button
            disabled={quantity === null || quantity <= 0 || baseId === '' || day === '' || adding.isLoading}
            onClick={() => void send()}>
            Note the order
          </Button>
        </div>
      )}
      <Wrong error={adding.error ?? closing.error} />
    </section>
  );
}
