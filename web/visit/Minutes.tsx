import type { LearnedMinutes } from '@diurna/contract/visit';
import { TASKS } from '@diurna/core/service';
import { minutesText } from '@diurna/core/visit';
import { visitApi } from './api.ts';
import { workCalendarApi } from '../work-calendar/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { Asked, Heads, Leaves, PageHead, Wrong } from '../ui/parts.tsx';
import { plural } from '../ui/format.ts';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';
import { RULES_LEAVES } from '../rules/index.ts';

/** Paces closer than this are the same. */
const WORTH = 0.03;

/** Tasks by model, with what they take. */
function Learned({ of }: { of: readonly LearnedMinutes[] }) {
  return (
    <Lines>
      <Heads of={['Task', 'Model', { num: 'Estimate' }, { num: 'Learned' }, { num: 'From' }]} />
      <tbody>
        {of.map((w) => (
          <tr key={`${w.task} ${w.modelId}`}>
            <th scope="row">
              <span className="task">
                <TaskGlyph task={w.task} silent size={18} /> {TASKS[w.task].word}
              </span>
            </th>
            <td>{w.modelName}</td>
            <td className="num figure">{minutesText(w.estimate)}</td>
            <td className="num figure">
              <b>{minutesText(w.minutes)}</b>
            </td>
            <td className="num">{plural(w.times, 'time')}</td>
          </tr>
        ))}
      </tbody>
    </Lines>
  );
}

/** Minutes learned from the ticks of cards, beside the estimate they began with. */
export function Minutes() {
  const { data, error } = visitApi.useMinutesQuery();
  const maySteer = useMay('administrator', 'coordinator');
  const [setPace, { isLoading, error: wrong }] = workCalendarApi.useSetPaceMutation();
  const dispatch = useAppDispatch();
  const measured = data?.people.filter((p) => p.times > 0) ?? [];
  return (
    <>
      <PageHead title="Minutes">
        What work takes here, learned from the ticks of cards: by task and model, and by technician. Few times move the
        estimate little, many move it much.
      </PageHead>
      <Leaves of={RULES_LEAVES} label="Rules" />
      <Asked data={data} error={error} />
      {data && (
        <div className="two">
          <section className="block">
            <h2>By task and model</h2>
            {data.works.length === 0 && (
              <p className="faint">
                Nothing was measured yet. Once cards are ticked step by step, the estimates follow what the work really
                takes.
              </p>
            )}
            {data.works.length > 0 && <Learned of={data.works} />}
            {data.drains.length > 0 && (
              <>
                <h2>Draining by itself</h2>
                <p className="faint">From cards on which somebody stood by until it was empty.</p>
                <Learned of={data.drains} />
              </>
            )}
          </section>
          <section className="block">
            <h2>By technician</h2>
            {measured.length === 0 && <p className="faint">Nobody’s time was measured yet.</p>}
            {measured.length > 0 && (
              <Lines>
                <thead>
                  <tr>
                    <th scope="col">Technician</th>
                    <th scope="col" className="num">
                      Set
                    </th>
                    <th scope="col" className="num">
                      Learned
                    </th>
                    <th scope="col" className="num">
                      From
                    </th>
                    {maySteer && (
                      <th scope="col">
                        <span className="visually-hidden">Plans</span>
                      </th>
                    )}
                  </tr>
                </thead>
                <tbody>
                  {measured.map((p) => (
                    <tr key={p.personId}>
                      <th scope="row">{p.name}</th>
                      <td className="num figure">{p.pace.toFixed(2)}</td>
                      <td className="num figure">
                        <b>{p.learned.toFixed(2)}</b>
                      </td>
                      <td className="num">{plural(p.times, 'time')}</td>
                      {maySteer && (
                        <td className="num">
                          {Math.abs(p.learned - p.pace) >= WORTH && (
                            <button
                              type="button"
                              className="link-button"
                              disabled={isLoading}
                              aria-label={`plan with it: ${p.learned.toFixed(2)} for ${p.name}`}
                              onClick={() => {
                                void setPace({ id: p.personId, pace: p.learned, version: p.version }).then((a) => {
                                  if (a.data)
                                    dispatch(
                                      say({
                                        tone: 'done',
                                        text: `Plans and cards of ${p.name} count with ${p.learned.toFixed(2)} from now on.`,
                                      }),
                                    );
                                });
                              }}>
                              plan with it
                            </button>
                          )}
                        </td>
                      )}
                    </tr>
                  ))}
                </tbody>
              </Lines>
            )}
            <Wrong error={wrong} />
            <p className="faint above-s">
              1.00 takes as long as the estimate, 1.20 a fifth longer. Plans use the pace set for each person in the
              yard; the first time on a model takes about three times as long and is not counted against anybody.
            </p>
          </section>
        </div>
      )}
    </>
  );
}
