import { Button } from '@mui/material';
import { useState } from 'react';
import { say, useAppDispatch } from '../app/store.ts';
import { useShort } from '../app/useBook.ts';
import { fleetApi } from '../fleet/api.ts';
import { smallPicture } from '../snags/index.ts';
import { clockText } from '../ui/format.ts';
import { Choice, Entry, Wrong } from '../ui/parts.tsx';
import { visitApi } from './api.ts';
import { fileOf } from './step-picture.ts';

/** The yard's own pictures of one step, and another one: a photograph, or a drawing. */
export function StepPictures({ place, step }: { place: string; step: string }) {
  const short = useShort();
  const { data = [] } = visitApi.useListStepPicturesQuery();
  const { data: models = [] } = fleetApi.useListModelsQuery();
  const [add, adding] = visitApi.useAddStepPictureMutation();
  const [drop, dropping] = visitApi.useDropStepPictureMutation();
  const [modelId, setModelId] = useState<number | ''>('');
  const [caption, setCaption] = useState('');
  const [unread, setUnread] = useState(false);
  const dispatch = useAppDispatch();
  const keep = async (file: File) => {
    const photo = await smallPicture(file);
    setUnread(photo === null);
    if (!photo) return;
    const answer = await add({ place, modelId: modelId === '' ? null : modelId, caption: caption.trim(), photo });
    if (!answer.data) return;
    setCaption('');
    dispatch(say({ tone: 'done', text: `The picture stands at “${step}” on every card.` }));
  };
  return (
    <section className="step-pictures" aria-label={`Pictures of “${step}”`}>
      {data
        .filter((p) => p.place === place)
        .map((p) => (
          <figure key={p.id}>
            <img src={fileOf(p.id)} alt={p.caption === '' ? step : p.caption} loading="lazy" />
            <figcaption className="small">
              {p.caption !== '' && `${p.caption}. `}
              {p.modelName ?? 'All models'}, {short(p.by)}, {clockText(p.at)}{' '}
              <button
                type="button"
                className="link-button"
                disabled={dropping.isLoading}
                aria-label={`Show it no more: the picture of ${p.modelName ?? 'all models'}`}
                onClick={() => void drop(p.id)}>
                show it no more
              </button>
            </figcaption>
          </figure>
        ))}
      <div className="tools">
        <Choice
          label="Picture for"
          value={modelId}
          onChange={setModelId}
          options={[['', 'All models'], ...models.map((m): [number, string] => [m.id, m.name])]}
        />
        <Entry label="What it shows, if it has to be said" value={caption} maxLength={200} onType={setCaption} />
        <Button component="label" disabled={adding.isLoading}>
          Choose a picture
          <input
            type="file"
            accept="image/*"
            className="visually-hidden"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) void keep(file);
              // The same one may be chosen again.
              e.target.value = '';
            }}
          />
        </Button>
      </div>
      {unread && (
        <p className="minus" role="alert">
          This picture cannot be read. Choose another.
        </p>
      )}
      <Wrong error={adding.error ?? dropping.error} />
    </section>
  );
}
