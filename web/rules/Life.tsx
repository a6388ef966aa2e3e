import { holds } from '@diurna/core/life';
import { LOOKED_AT, TASKS } from '@diurna/core/service';
import { useState } from 'react';
import type { Query, Reply } from '../app/api.ts';
import { useSession } from '../app/useBook.ts';
import { hoursText, moneyText, plural } from '../ui/format.ts';
import { Lines } from '../ui/Lines.tsx';
import { Asked, Choice, Entry, Heads, Leaves, PageHead } from '../ui/parts.tsx';
import { rulesApi } from './api.ts';
import { RULES_LEAVES } from './leaves.ts';
import './life.css';

type Asks = Query<'readLife'>;
const WATERS: [NonNullable<Asks['water']>, string][] = [
  ['all', 'all boats'],
  ['sand', 'sand and shallows'],
  ['no sand', 'clear water'],
  ['salt', 'salt water'],
  ['no salt', 'fresh water'],
];
const figure = (text: string): number | undefined =>
  /^\d+([.,]\d+)?$/.test(text.trim()) && Number(text.trim().replace(',', '.')) > 0
    ? Number(text.trim().replace(',', '.'))
    : undefined;
type Clock = NonNullable<Asks['by']>;
const CLOCKS: [Clock, string][] = [
  ['hours', 'hours run'],
  ['months', 'months fitted'],
];
/** An age on that clock; months are few, and told to the half. */
const ageText = (age: number, by: Clock) =>
  by === 'hours' ? `${Math.round(age)} h` : `${Math.round(age * 2) / 2} months`;
/** What costs are told for: a hundred hours, or a year. */
const SPAN = { hours: [100, '100 h'], months: [12, 'a year'] } as const;

/** How long a part lasts in this fleet, with how sure that is, and at what age renewing it costs least. */
export function Life() {
  const [task, setTask] = useState<Asks['task']>('impeller');
  const [water, setWater] = useState<NonNullable<Asks['water']>>('all');
  const [by, setBy] = useState<Clock>('hours');
  const whole = (age: number) => ageText(age, by);
  const [span, spanWord] = SPAN[by];
  const [planned, setPlanned] = useState('');
  const [failed, setFailed] = useState('');
  const currency = useSession()?.currency ?? 'EUR';
  const [p, f] = [figure(planned), figure(failed)];
  const { data, error } = rulesApi.useReadLifeQuery({
    task,
    water,
    by,
    ...(p !== undefined && { planned: p }),
    ...(f !== undefined && { failed: f }),
  });
  const money = (cost: number) => moneyText(Math.round(cost * 100), currency);
  return (
    <>
      <PageHead title="Rules">How long they last</PageHead>
      <Leaves label="Rules" of={RULES_LEAVES} />
      <div className="life-asks">
        <Choice
          label="Part"
          value={task}
          options={LOOKED_AT.map((t): [typeof t, string] => [t, TASKS[t].word])}
          onChange={(next) => {
            if (next !== '') setTask(next);
          }}
        />
        <Choice
          label="Of"
          value={water}
          options={WATERS}
          onChange={(next) => {
            if (next !== '') setWater(next);
          }}
        />
        <Choice
          label="By"
          value={by}
          options={CLOCKS}
          onChange={(next) => {
            if (next !== '') setBy(next);
          }}
        />
        <Entry
          kind="figure"
          short
          label={`Renewed in time (${currency})`}
          value={planned}
          placeholder={data ? String(data.costs.planned) : ''}
          onType={setPlanned}
        />
        <Entry
          kind="figure"
          short
          label={`Failed on the water (${currency})`}
          value={failed}
          placeholder={data ? String(data.costs.failed) : ''}
          onType={setFailed}
        />
      </div>
      <Asked data={data} error={error} />
      {data && (
        <>
          <p>
            {plural(data.lives, 'life', 'lives')}, {data.failures} ended worn or broken; the others still held.{' '}
            {data.few && <b className="minus">That is few: it says little, and the usual rule is the safer guide.</b>}
          </p>
          {data.fit === null ? (
            <p className="faint">
              Two failures at different ages are the least a law can be fitted to. What cards read of old parts fills
              this page.
            </p>
          ) : (
            <>
              <p>
                {data.fit.shape > 1 ? 'They wear' : 'They fail by chance more than by wear'}: shape{' '}
                <b className="figure">{data.fit.shape.toFixed(2)}</b> ({data.fit.shapeRange[0].toFixed(2)} to{' '}
                {data.fit.shapeRange[1].toFixed(2)}), two of three have failed by{' '}
                <b className="figure">{whole(data.fit.scale)}</b> ({whole(data.fit.scaleRange[0])} to{' '}
                {whole(data.fit.scaleRange[1])}).
              </p>
              <p>
                {data.cheapest === null ? (
                  'Renewing in time saves nothing at these costs: waiting is cheapest.'
                ) : (
                  <>
                    Renewing at <b className="figure">{whole(data.cheapest.age)}</b> costs least,{' '}
                    {money(data.cheapest.cost * span)} for {spanWord}; {Math.round(data.cheapest.failsBefore * 100)} %
                    still fail before.{' '}
                    {data.cheapest.between === null
                      ? 'How sure that is the data do not say yet.'
                      : `As sure as the data are it lies between ${whole(data.cheapest.between[0])} and ${whole(data.cheapest.between[1])}.`}
                  </>
                )}
              </p>
              <Curve data={data} by={by} />
            </>
          )}
          <InForce rules={data.inForce} by={by} money={money} />
          <p className="faint small">
            Costs nobody types are the yard’s own: its hands, its parts where a price is known, and a day and a half of
            hire for a failure. Evidence, not a rule: the engine maker’s interval and the yard’s answer stand until
            somebody changes them.
          </p>
        </>
      )}
    </>
  );
}

/** What the rules in force cost, beside the cheapest age. */
function InForce({
  rules,
  by,
  money,
}: {
  rules: Reply<'readLife'>['inForce'];
  by: Clock;
  money: (cost: number) => string;
}) {
  const [span, spanWord] = SPAN[by];
  if (rules.length === 0) return null;
  return (
    <Lines aria-label="Rules in force">
      <Heads of={[{ num: 'Renewed every' }, { num: 'Engines' }, { num: `Costs for ${spanWord}` }]} />
      <tbody>
        {rules.map((r) => (
          <tr key={r.age}>
            <td className="num figure">{by === 'hours' ? `${hoursText(r.age)} h` : plural(r.age, 'month')}</td>
            <td className="num figure">{r.engines}</td>
            <td className="num figure">{r.cost === null ? '' : money(r.cost * span)}</td>
          </tr>
        ))}
      </tbody>
    </Lines>
  );
}

const [WIDE, HIGH] = [900, 220];

/** The share that still holds: steps of what was seen, the law as a line, and the cheapest age. */
function Curve({ data: { fit, points, cheapest }, by }: { data: Reply<'readLife'>; by: Clock }) {
  const whole = (age: number) => ageText(age, by);
  if (!fit) return null;
  const most = Math.max(fit.scale * 1.6, points.at(-1)?.time ?? 0);
  const x = (t: number) => (t / most) * WIDE;
  const y = (share: number) => HIGH - share * HIGH;
  let steps = `M0 ${y(1)}`;
  for (const p of points) steps += `H${x(p.time)}V${y(p.share)}`;
  const law = Array.from({ length: 101 }, (_, i) => `${x((most * i) / 100)} ${y(holds((most * i) / 100, fit))}`);
  const marks = [0, 0.25, 0.5, 0.75, 1].map((share) => Math.round(most * share));
  return (
    <figure className="life-curve">
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        preserveAspectRatio="none"
        role="img"
        aria-label={`Half of them still hold at ${whole(fit.scale * Math.LN2 ** (1 / fit.shape))}; the line is the law, the steps what was seen.`}>
        {[0, 0.5, 1].map((share) => (
          <path key={share} d={`M0 ${y(share)}H${WIDE}`} className="life-rule" />
        ))}
        {cheapest?.between && (
          <rect
            x={x(cheapest.between[0])}
            width={Math.max(1, x(cheapest.between[1]) - x(cheapest.between[0]))}
            y="0"
            height={HIGH}
            className="life-between"
          />
        )}
        <path d={steps} className="life-seen" />
        <path d={`M${law.join('L')}`} className="life-law" />
        {cheapest && <path d={`M${x(cheapest.age)} 0V${HIGH}`} className="life-age" />}
      </svg>
      <div className="life-marks" aria-hidden="true">
        {marks.map((m) => (
          <span key={m}>{by === 'hours' ? `${m} h` : m}</span>
        ))}
      </div>
    </figure>
  );
}
