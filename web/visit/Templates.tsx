import type { TemplateReply } from '@diurna/contract/visit';
import { MANUAL_FIRST, TASK_GROUPS, TASKS } from '@diurna/core/service';
import { ACCESS_TEMPLATES, isAccessTemplate, templateWord, type TemplateKey } from '@diurna/core/visit';
import { useEffect } from 'react';
import { useSearchParams } from 'react-router';
import { RULES_LEAVES } from '../rules/index.ts';
import { Asked, Empty, Leaves, PageHead } from '../ui/parts.tsx';
import { TaskGlyph } from '../ui/TaskGlyph.tsx';
import { visitApi } from './api.ts';
import { Template } from './Template.tsx';
import './templates.css';

const GROUP_WORD = { service: 'Service', repair: 'Asked for by findings', season: 'Season' } as const;

/** The steps of every task, as cards are issued with them; the coordinator writes the yard's own. */
export function Templates() {
  const { data, error } = visitApi.useListTemplatesQuery();
  const [params, setParams] = useSearchParams();
  const picked = data?.find((t) => t.key === params.get('of')) ?? data?.[0];
  // The list is longer than the page: what is picked is in sight.
  useEffect(() => {
    document.querySelector('.template-list .picked')?.scrollIntoView({ block: 'nearest' });
  }, [picked?.key]);
  return (
    <>
      <PageHead title="Steps">How each task is done, step by step. {MANUAL_FIRST}</PageHead>
      <Leaves of={RULES_LEAVES} label="Rules" />
      <Asked data={data} error={error} />
      {data && picked && (
        <div className="templates">
          <nav aria-label="Tasks" className="template-list">
            {TASK_GROUPS.map((g) => (
              <Group
                key={g}
                title={GROUP_WORD[g]}
                of={data.filter((t) => !isAccessTemplate(t.key) && TASKS[t.key].group === g)}
                picked={picked}
                pick={(key) => {
                  setParams({ of: key });
                }}
              />
            ))}
            <Group
              title="Opening, closing, every visit"
              of={ACCESS_TEMPLATES.flatMap((key) => data.find((t) => t.key === key) ?? [])}
              picked={picked}
              pick={(key) => {
                setParams({ of: key });
              }}
            />
          </nav>
          <Template key={`${picked.key} ${picked.version}`} template={picked} />
        </div>
      )}
      {data?.length === 0 && <Empty title="No steps yet." />}
    </>
  );
}

function Group({
  title,
  of,
  picked,
  pick,
}: {
  title: string;
  of: readonly TemplateReply[];
  picked: TemplateReply;
  pick: (key: TemplateKey) => void;
}) {
  return (
    <div>
      <h3>{title}</h3>
      {of.map((t) => (
        <button
          key={t.key}
          type="button"
          className={t.key === picked.key ? 'picked' : ''}
          aria-current={t.key === picked.key}
          onClick={() => {
            pick(t.key);
          }}>
          {!isAccessTemplate(t.key) && <TaskGlyph task={t.key} silent size={19} />} {templateWord(t.key)}
          {t.origin === 'own' && <span className="faint"> own</span>}
        </button>
      ))}
    </div>
  );
}
