import type { ChangeHead } from '@diurna/contract/changes';
import { useState } from 'react';
import { useMay } from '../app/useBook.ts';
import { clockText, plural } from '../ui/format.ts';
import { Asked } from '../ui/parts.tsx';
import { ShowAll } from '../ui/ShowAll.tsx';
import { changesApi } from './api.ts';
import { ChangeLines } from './ChangeLines.tsx';
import { TakeBack } from './TakeBack.tsx';

const SHOWN = 5;

/** What was decided about cards of late: looked into, and taken back. */
export function Lately() {
  const maySteer = useMay('administrator', 'coordinator');
  const { data } = changesApi.useListChangesQuery(undefined, { skip: !maySteer });
  const [all, setAll] = useState(false);
  if (!data || data.length === 0) return null;
  return (
    <section className="block">
      <h2>Decided of late</h2>
      {(all ? data : data.slice(0, SHOWN)).map((c) => (
        <One key={c.id} head={c} />
      ))}
      {data.length > SHOWN && (
        <ShowAll all={all} rest={data.length - SHOWN} less="the last few only" onChange={setAll} />
      )}
    </section>
  );
}

function One({ head }: { head: ChangeHead }) {
  const [open, setOpen] = useState(false);
  return (
    <div className="decided">
      <button
        type="button"
        className="link-button plain"
        aria-expanded={open}
        onClick={() => {
          setOpen(!open);
        }}>
        {head.text.charAt(0).toUpperCase() + head.text.slice(1)}
      </button>{' '}
      <span className="faint">
        {head.by ? `${head.by}, ` : ''}
        {clockText(head.at)}
        {head.cards > 1 ? `, ${plural(head.cards, 'card')}` : ''}
        {head.takenBack ? ', taken back' : ''}
      </span>
      {open && <Inside id={head.id} takenBack={head.takenBack} />}
    </div>
  );
}

function Inside({ id, takenBack }: { id: number; takenBack: boolean }) {
  const { data, error } = changesApi.useReadChangeQuery(id, { refetchOnMountOrArgChange: true });
  return (
    <>
      <Asked data={data} error={error} />
      {data && <ChangeLines changes={data.cards} />}
      {data && !takenBack && <TakeBack changeId={id} />}
    </>
  );
}
