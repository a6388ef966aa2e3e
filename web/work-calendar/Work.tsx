import type { WorkingPerson } from '@diurna/contract/work-calendar';
import { useState } from 'react';
import { useBases, useMay, useSession, useToday } from '../app/useBook.ts';
import { moneyText, shortDay } from '../ui/format.ts';
import { Waiting, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { workCalendarApi } from './api.ts';
import { ClosedDays } from './ClosedDays.tsx';
import { Lift } from './Lift.tsx';
import { PlanWeights } from './PlanWeights.tsx';
import { exceptionText, weekText } from './words.ts';
import { WorkForm } from './WorkForm.tsx';
import { RowAct } from '../ui/RowAct.tsx';

/**
 * When people work, at which base and with which skills; days without work, the lift, and what plans are weighed by.
 */
export function Work() {
  const today = useToday();
  const bases = useBases();
  const maySteer = useMay('administrator', 'coordinator');
  const { data, error } = workCalendarApi.useReadWorkCalendarQuery({ from: today });
  const currency = useSession()?.currency ?? 'EUR';
  const [open, setOpen] = useState<WorkingPerson | null>(null);
  if (!data)
    return (
      <section className="block">
        <h2>Working hours</h2>
        <Wrong error={error} />
        {!error && <Waiting />}
      </section>
    );
  const base = (id: number | null) => bases.find((b) => b.id === id)?.name ?? '';
  const people = data.people.filter((p) => p.role === 'technician');
  return (
    <>
      <section className="block">
        <h2>Working hours</h2>
        <Lines>
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col">Can do besides</th>
              <th scope="col">Usual week</th>
              {maySteer && (
                <>
                  <th scope="col" className="num">
                    Pace
                  </th>
                  <th scope="col" className="num">
                    An hour
                  </th>
                </>
              )}
              <th scope="col">Other days</th>
              <th scope="col">
                <span className="visually-hidden">Act</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {people.map((p) => (
              <tr key={p.id}>
                <td>
                  <b>{p.name}</b>
                </td>
                <td>{p.skills.join(', ') || <span className="faint">everyday work</span>}</td>
                <td>{weekText(p, base)}</td>
                {maySteer && (
                  <>
                    <td className="num figure">{p.pace?.toFixed(2)}</td>
                    <td className="num figure">{moneyText(p.rateMinor ?? data.settings.rateMinor, currency)}</td>
                  </>
                )}
                <td>
                  {p.exceptions.slice(0, 2).map((x) => (
                    <div key={x.id}>{exceptionText(x, shortDay, base)}</div>
                  ))}
                  {p.exceptions.length > 2 && <span className="faint">and {p.exceptions.length - 2} more</span>}
                </td>
                <td className="keep">
                  {maySteer && (
                    <RowAct
                      of={`edit the working hours of ${p.name}`}
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
        {people.length === 0 && <p className="faint">Add a technician first.</p>}
      </section>
      <ClosedDays data={data} maySteer={maySteer} />
      <Lift data={data} maySteer={maySteer} />
      {maySteer && <PlanWeights key={data.settings.version} settings={data.settings} />}
      {open && (
        <WorkForm
          key={open.id}
          person={data.people.find((p) => p.id === open.id) ?? open}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
    </>
  );
}
