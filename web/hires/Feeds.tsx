import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { feedEdit, type HireFeed } from '@diurna/contract/hires';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import { hiresApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useBases, useMay } from '../app/useBook.ts';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { clockText } from '../ui/format.ts';
import { Heads, Wrong } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';

/** Calendars kept elsewhere, read again every quarter of an hour. */
export function Feeds() {
  const { data: feeds = [], error } = hiresApi.useListFeedsQuery();
  const bases = useBases();
  const maySteer = useMay('administrator', 'coordinator');
  const mayName = useMay('administrator');
  const [read, reading] = hiresApi.useReadFeedMutation();
  const [open, setOpen] = useState<HireFeed | 'new' | null>(null);
  const dispatch = useAppDispatch();
  const readNow = async (feed: HireFeed) => {
    const answer = await read(feed.id);
    if (answer.data)
      dispatch(say({ tone: answer.data.failed ? 'wrong' : 'done', text: `${feed.name}. ${answer.data.outcome}` }));
  };
  return (
    <section className="block">
      <h2>Calendars the book follows</h2>
      <p className="faint">
        Read again every quarter of an hour. What a calendar no longer has is called off here; what is over stays.
      </p>
      <Wrong error={error ?? reading.error} />
      {feeds.length === 0 && (
        <p>
          {mayName
            ? 'None yet. Most booking systems give a calendar address for each boat or dock.'
            : 'None yet. An administrator can add the address of a booking calendar.'}
        </p>
      )}
      {feeds.length > 0 && (
        <Lines>
          <Heads of={['Calendar', 'Base', { num: 'Hires ahead' }, 'Last read', { unseen: 'Act' }]} />
          <tbody>
            {feeds.map((f) => (
              <tr key={f.id}>
                <td>
                  <b>{f.name}</b>
                  {!f.active && <span className="faint">, not followed</span>}
                </td>
                <td>{bases.find((b) => b.id === f.baseId)?.name}</td>
                <td className="num figure">{f.hires}</td>
                <td className={f.failed ? 'minus' : ''}>
                  {f.readAt ? `${clockText(f.readAt)}. ${f.outcome ?? ''}` : 'not yet'}
                </td>
                <td className="num">
                  {maySteer && (
                    <Button
                      size="small"
                      disabled={reading.isLoading}
                      onClick={() => void readNow(f)}
                      aria-label={`Read now: ${f.name}`}>
                      Read now
                    </Button>
                  )}
                  {mayName && (
                    <Button
                      size="small"
                      onClick={() => {
                        setOpen(f);
                      }}
                      aria-label={`Edit ${f.name}`}>
                      Edit
                    </Button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {mayName && (
        <p className="above-s">
          <Button
            onClick={() => {
              setOpen('new');
            }}>
            Follow a calendar
          </Button>
        </p>
      )}
      {open && (
        <FeedForm
          {...(open !== 'new' && { feed: open })}
          onClose={() => {
            setOpen(null);
          }}
        />
      )}
    </section>
  );
}

function FeedForm({ feed, onClose }: { feed?: HireFeed; onClose: () => void }) {
  const bases = useBases();
  const [add, adding] = hiresApi.useAddFeedMutation();
  const [edit, editing] = hiresApi.useEditFeedMutation();
  const [read] = hiresApi.useReadFeedMutation();
  const dispatch = useAppDispatch();
  const { control, handleSubmit } = useForm<z.input<typeof feedEdit>>({
    resolver: zodResolver(feedEdit),
    defaultValues: feed
      ? { name: feed.name, url: feed.url ?? '', baseId: feed.baseId, active: feed.active }
      : { name: '', url: '', baseId: bases[0]?.id ?? 0, active: true },
  });
  const save = handleSubmit(async (values) => {
    const answer = feed ? await edit({ id: feed.id, version: feed.version, ...values }) : await add(values);
    if (!answer.data) return;
    const outcome = values.active ? await read(answer.data.id) : null;
    dispatch(
      say({
        tone: outcome?.data?.failed ? 'wrong' : 'done',
        text: `${values.name} is ${values.active ? 'followed' : 'not followed any more'}. ${outcome?.data?.outcome ?? ''}`,
      }),
    );
    onClose();
  });
  return (
    <FormSheet
      title={feed ? `Edit ${feed.name}` : 'Follow a calendar'}
      act={feed ? 'Keep the changes' : 'Follow it'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error}
      busy={adding.isLoading || editing.isLoading}>
      <div className="full">
        <Field control={control} name="name" label="Name" autoFocus />
      </div>
      <div className="full">
        <Field
          control={control}
          name="url"
          label="Address"
          help="begins with https:// and ends in .ics, as the booking system gives it"
        />
      </div>
      <Pick control={control} name="baseId" label="Base" options={bases.map((b) => [b.id, b.name])} />
      <Pick
        control={control}
        name="active"
        label="Followed"
        options={[
          [true, 'yes'],
          [false, 'not now'],
        ]}
      />
    </FormSheet>
  );
}
