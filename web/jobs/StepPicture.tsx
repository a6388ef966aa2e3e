import { Button, Dialog, DialogActions, DialogContent, useMediaQuery } from '@mui/material';
import { placedText, stepPlace, type Step } from '@diurna/core/visit';
import { useEffect, useState } from 'react';
import { visitApi } from '../visit/api.ts';
import { fileOf, pictureAt } from '../visit/index.ts';
import type { LiveCard } from './live-card.ts';

const modelOf = ({ card }: LiveCard, step: Step) => card.engines.find((e) => e.id === step.engineId)?.modelName ?? null;

/** The yard's own picture of the step at hand, a tap away; nothing where there is none. */
export function StepPicture({ live, step }: { live: LiveCard; step: Step }) {
  const { data = [] } = visitApi.useListStepPicturesQuery();
  const narrow = useMediaQuery('(max-width: 760px)');
  const [openOf, setOpenOf] = useState('');
  const picture = pictureAt(data, stepPlace(step.id), modelOf(live, step));
  if (!picture) return null;
  const text = placedText(live.card.engines, step);
  const close = () => {
    setOpenOf('');
  };
  return (
    <>
      <button
        type="button"
        className="link-button"
        aria-haspopup="dialog"
        onClick={() => {
          setOpenOf(step.id);
        }}>
        Picture
      </button>
      {openOf === step.id && (
        <Dialog open onClose={close} maxWidth="md" fullWidth fullScreen={narrow} aria-label={`Picture: ${text}`}>
          <DialogContent>
            <img
              className="step-picture"
              src={fileOf(picture.id)}
              alt={picture.caption === '' ? text : picture.caption}
            />
            {picture.caption !== '' && <p>{picture.caption}</p>}
            <p className="faint small">
              {picture.modelName === null ? 'For all models' : `For ${picture.modelName}`}. The engine maker’s manual
              comes first where it shows it otherwise.
            </p>
          </DialogContent>
          <DialogActions>
            <Button onClick={close}>Close</Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

/** Pictures of this card's steps are fetched while there is signal, so that they are there without. */
export function useKeptPictures(live: LiveCard): void {
  const { data = [] } = visitApi.useListStepPicturesQuery();
  const wanted = live.steps
    .flatMap(({ step }) => pictureAt(data, stepPlace(step.id), modelOf(live, step))?.id ?? [])
    .join();
  useEffect(() => {
    for (const id of new Set(wanted === '' ? [] : wanted.split(',')))
      // Without signal it stands as it was kept, or is fetched the next time.
      void fetch(fileOf(Number(id))).catch(() => undefined);
  }, [wanted]);
}
