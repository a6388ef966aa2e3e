import { inBothUnits } from '@diurna/core/units';
import { Button } from '@mui/material';
import { ruleText, TASKS, TASK_KINDS } from '@diurna/core/service';
import { Link } from 'react-router';
import { fleetApi } from './api.ts';
import { useMay } from '../app/useBook.ts';
import { figuresMissing } from '@diurna/core/visit';
import type { Reply } from '../app/api.ts';
import { Asked, Empty, Leaves, PageHead } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { Lines } from '../ui/Lines.tsx';
import { FLEET_LEAVES } from './leaves.ts';

/** Engine models: volumes and programme side by side. */
export function Models() {
  const { data, error } = fleetApi.useListModelsQuery();
  const maySteer = useMay('administrator', 'coordinator');
  const inUse = TASK_KINDS.filter((t) => data?.some((m) => m.rules.some((r) => r.task === t)));
  return (
    <>
      <PageHead
        title="Models and programmes"
        acts={
          maySteer && (
            <Button component={Link} to="/fleet/models/new">
              Add a model
            </Button>
          )
        }>
        How often each task is wanted, hours or months, whichever comes first.
      </PageHead>
      <Leaves of={FLEET_LEAVES} label="Fleet" />
      <Asked data={data} error={error} />
      {data?.length === 0 && (
        <Empty title="No engine model yet.">Models come with a fleet file, or add the first one above.</Empty>
      )}
      {data && data.length > 0 && (
        <Lines>
          <thead>
            <tr>
              <th scope="col">Model</th>
              <th scope="col" className="num">
                Engines
              </th>
              <th scope="col">Engine oil holds</th>
              <th scope="col">Gear case holds</th>
              {inUse.map((t) => (
                <th scope="col" key={t}>
                  <span className="task">
                    <TaskGlyph task={t} silent size={19} />
                    {TASKS[t].word}
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {data.map((m) => (
              <tr key={m.id}>
                <td>
                  <Link to={`/fleet/models/${m.id}`}>
                    <b>
                      {m.maker} {m.name}
                    </b>
                  </Link>{' '}
                  <span className="faint small">
                    {m.powerHp} hp, {m.stroke}-stroke, {m.cylinders} cyl
                  </span>
                </td>
                <td className="num figure">{m.engines}</td>
                <td className="figure small">{m.sump ? inBothUnits(m.sump) : '–'}</td>
                <td className="figure small">{m.gearCase ? inBothUnits(m.gearCase) : '–'}</td>
                {inUse.map((t) => {
                  const r = m.rules.find((x) => x.task === t);
                  return (
                    <td key={t} className={r ? 'small' : 'faint'}>
                      {r ? ruleText(r) : '–'}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {data && maySteer && <FiguresMissing models={data} />}
    </>
  );
}

/** How many models stand in the list of what is missing. */
const MOST_MISSING = 3;
const MOST_WORDS = 4;

/** Where cards say "by the manual" because the book has no figure: the worst first. */
function FiguresMissing({ models }: { models: Reply<'listModels'> }) {
  const missing = figuresMissing(models);
  if (missing.length === 0) return null;
  return (
    <section className="block" aria-label="Figures cards still want">
      <h2>Figures cards still want</h2>
      <p className="faint">Until they are entered the cards say “by the manual”. What hurts most stands first.</p>
      <ul>
        {missing.slice(0, MOST_MISSING).map(({ model: m, words }) => (
          <li key={m.id}>
            <Link to={`/fleet/models/${m.id}`}>
              {m.maker} {m.name}
            </Link>
            , {m.engines === 1 ? 'one engine' : `${m.engines} engines`}: {words.slice(0, MOST_WORDS).join(', ')}
            {words.length > MOST_WORDS && <span className="faint"> and {words.length - MOST_WORDS} more</span>}
          </li>
        ))}
      </ul>
      {missing.length > MOST_MISSING && <p className="faint">and {missing.length - MOST_MISSING} more models</p>}
    </section>
  );
}
