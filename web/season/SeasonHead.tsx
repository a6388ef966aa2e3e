import type { AboutSeason } from '@diurna/contract/season';
import type { ReactNode } from 'react';
import { BaseChoice } from '../ui/BaseChoice.tsx';
import { fullDay } from '../ui/format.ts';
import { Asked, Empty, Leaves, PageHead } from '../ui/parts.tsx';
import { SEASON_LEAVES } from './words.ts';
import './season.css';

/** The head of each leaf of the room: the base, and what its season is about. */
export function SeasonHead({
  of: { data, error, baseId, setBase },
  acts,
}: {
  of: { data: AboutSeason | undefined; error: unknown; baseId: number | null; setBase: (id: number | '') => void };
  acts?: ReactNode;
}) {
  return (
    <>
      <PageHead
        title="Season"
        acts={
          <>
            <BaseChoice hideLabel value={baseId ?? ''} onChange={setBase} />
            {acts}
          </>
        }>
        {data?.off &&
          `${data.off.name}: closes ${fullDay(data.off.closes)}, opens ${fullDay(data.off.opens)}${
            data.season.entered ? '' : '; usual days, nobody entered its own'
          }`}
      </PageHead>
      <Leaves label="Season" of={SEASON_LEAVES.map(([to, word]) => [`${to}?base=${baseId ?? ''}`, word])} />
      <Asked data={data} error={error} />
      {data && data.off === null && (
        <Empty title="This base never closes.">
          Nothing is laid up here: its engines meet their calendar limits in Due. Its year is set under Year and places.
        </Empty>
      )}
    </>
  );
}
