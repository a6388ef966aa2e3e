import type { AuditRow } from '@diurna/contract/records';
import { useState } from 'react';
import { peopleApi } from '../people/api.ts';
import { recordsApi } from './api.ts';
import { clockText, plural } from '../ui/format.ts';
import { Asked, Choice, Empty, Heads, Leaves, PageHead, Pager } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { changesOf } from './changes.ts';
import { useRecordLeaves } from './leaves.ts';

const SIZE = 50;
const SUBJECTS = [
  'job',
  'hours',
  'service entry',
  'stock',
  'boat',
  'engine',
  'meter',
  'model',
  'part',
  'base',
  'person',
  'settings',
  'file',
  'book',
];

/** Who changed what, when, before and after. */
export function Audit() {
  const { data: people = [] } = peopleApi.useListPeopleQuery();
  const [subject, setSubject] = useState('');
  const [personId, setPersonId] = useState<number | ''>('');
  const [page, setPage] = useState(1);
  const { data, error } = recordsApi.useAuditQuery({
    page,
    size: SIZE,
    ...(subject && { subject }),
    ...(personId !== '' && { personId }),
  });
  return (
    <>
      <PageHead
        tools={
          <div className="tools">
            <Choice
              hideLabel
              label="What"
              value={subject}
              onChange={(v) => {
                setSubject(v);
                setPage(1);
              }}
              options={[['', 'Everything'], ...SUBJECTS.map((s): [string, string] => [s, s])]}
            />
            <Choice
              hideLabel
              label="Who"
              value={personId}
              onChange={(v) => {
                setPersonId(v);
                setPage(1);
              }}
              options={[['', 'Everybody'], ...people.map((p): [number, string] => [p.id, p.name])]}
            />
          </div>
        }
        title="Who changed what">
        {data && plural(data.total, 'act')}
      </PageHead>
      <Leaves of={useRecordLeaves()} label="Records" />
      <Asked data={data} error={error} />
      {data?.rows.length === 0 && <Empty title="Nobody did anything like this yet." />}
      {data && data.rows.length > 0 && (
        <Lines>
          <Heads of={['When', 'Who', 'What', 'Before and after']} />
          <tbody>
            {data.rows.map((row) => (
              <Act key={row.id} row={row} names={data.names} />
            ))}
          </tbody>
        </Lines>
      )}
      {data && <Pager page={page} size={SIZE} total={data.total} turn={setPage} />}
    </>
  );
}

function Act({ row, names }: { row: AuditRow; names: Readonly<Record<string, string>> }) {
  const changes = changesOf(row.before, row.after, names);
  return (
    <tr>
      <td className="faint whole at-top">{clockText(row.at)}</td>
      <td className="whole at-top">{row.person ?? 'the book'}</td>
      <td className="at-top">
        {row.act} {row.subject} {row.title && <b>{row.title}</b>}
      </td>
      <td>
        {changes.length > 0 && (
          <details>
            <summary>
              {changes
                .slice(0, 3)
                .map((c) => c.field)
                .join(', ')}
              {changes.length > 3 ? ` and ${changes.length - 3} more` : ''}
            </summary>
            <dl className="facts small">
              {changes.map((c) => (
                <div key={c.field} className="no-box">
                  <dt>{c.field}</dt>
                  <dd className="figure">
                    {c.before !== null && (
                      <>
                        <s>{c.before}</s>{' '}
                      </>
                    )}
                    {c.after ?? ''}
                  </dd>
                </div>
              ))}
            </dl>
          </details>
        )}
      </td>
    </tr>
  );
}
