import type { SeasonBoat } from '@diurna/contract/season';
import { lazy, Suspense, useState } from 'react';
import type { Reply } from '../app/api.ts';
import { plural } from '../ui/format.ts';
import { RowAct } from '../ui/RowAct.tsx';
import { KIND_WORDS } from './words.ts';

const BoatSheet = lazy(() => import('./BoatSheet.tsx').then((m) => ({ default: m.BoatSheet })));
/** More free berths than this in a place are told, not drawn. */
const MOST_FREE = 24;

type Season = Reply<'readSeason'>;
type Place = Season['places'][number];
interface Standing {
  name: string;
  place: Place | null;
  kind: keyof typeof KIND_WORDS | null;
  room: number | null;
  boats: SeasonBoat[];
}

/** Where each boat stands or will: the places with their berths, taken and free, and who has none yet. */
export function StorageMap({ data, onEdit }: { data: Season; onEdit: ((place: Place) => void) | null }) {
  const [open, setOpen] = useState<number | null>(null);
  const inside = data.boats.filter((b) => !b.staysOut);
  const places: Standing[] = [
    ...data.places.map((p) => ({ ...p, place: p, boats: inside.filter((b) => b.placeId === p.id) })),
    { name: 'No place yet', place: null, kind: null, room: null, boats: inside.filter((b) => b.placeId === null) },
    { name: 'Stay out', place: null, kind: null, room: null, boats: data.boats.filter((b) => b.staysOut) },
  ];
  const picked = data.boats.find((b) => b.boatId === open);
  return (
    <>
      <div className="storage-map">
        {places
          .filter((p) => p.room !== null || p.boats.length > 0)
          .map((p) => (
            <Shed key={p.name} of={p} onOpen={setOpen} onEdit={onEdit} />
          ))}
      </div>
      <Suspense>
        {picked && data.off && (
          <BoatSheet
            boat={picked}
            season={data}
            onClose={() => {
              setOpen(null);
            }}
          />
        )}
      </Suspense>
    </>
  );
}

function Shed({
  of: { name, place, kind, room, boats },
  onOpen,
  onEdit,
}: {
  of: Standing;
  onOpen: (boatId: number) => void;
  onEdit: ((place: Place) => void) | null;
}) {
  const free = room === null ? 0 : Math.max(0, room - boats.length);
  const words = room === null ? plural(boats.length, 'boat') : `${KIND_WORDS[kind!]}, ${boats.length} of ${room}`;
  return (
    <section className={room === null ? 'shed shed-none' : `shed shed-${kind}`} aria-label={name}>
      <h3>
        {name} <span className="faint">{words}</span>
        {place && onEdit && (
          <RowAct
            word="edit"
            of={`Edit ${name}`}
            onPress={() => {
              onEdit(place);
            }}
          />
        )}
      </h3>
      <ul>
        {boats.map((b) => (
          <li key={b.boatId}>
            <button
              type="button"
              className={b.laidUpOn === null ? 'berth-taken' : 'berth-taken berth-done'}
              onClick={() => {
                onOpen(b.boatId);
              }}>
              {b.boatName}
              <span className="visually-hidden">{b.laidUpOn === null ? ', not put away yet' : ', put away'}</span>
            </button>
          </li>
        ))}
        {Array.from({ length: Math.min(free, MOST_FREE) }, (_, i) => (
          // Berths are all alike.
          <li key={`free ${i}`} className="berth-free" aria-hidden />
        ))}
        {free > MOST_FREE && <li className="faint">and {free - MOST_FREE} more</li>}
      </ul>
      {free > 0 && <span className="visually-hidden">{plural(free, 'berth')} free</span>}
    </section>
  );
}
