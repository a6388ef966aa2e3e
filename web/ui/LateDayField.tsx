import { lazy, Suspense } from 'react';
import type { DayFieldProps } from './DayField.tsx';
import { Box } from './Box.tsx';

const DayField = lazy(() => import('./DayField.tsx').then((m) => ({ default: m.DayField })));

/** A day; its calendar is read when the first one is shown, so that no other page waits for it. */
export function LateDayField(props: DayFieldProps) {
  return (
    <Suspense
      fallback={
        <label className="choice">
          <span className={props.hideLabel ? 'visually-hidden' : 'choice-label'}>{props.label}</span>
          <Box disabled defaultValue={props.value} />
        </label>
      }>
      <DayField {...props} />
    </Suspense>
  );
}
