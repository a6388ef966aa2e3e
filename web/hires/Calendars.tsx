import { Link } from 'react-router';
import { useBases, useMay } from '../app/useBook.ts';
import { FLEET_LEAVES } from '../fleet/index.ts';
import { Leaves, PageHead } from '../ui/parts.tsx';
import { CalendarFile } from './CalendarFile.tsx';
import { Feeds } from './Feeds.tsx';

/** Where hires come from when nobody types them: calendars followed, and files read in. */
export function Calendars() {
  const bases = useBases();
  const maySteer = useMay('administrator', 'coordinator');
  return (
    <>
      <PageHead title="Calendars and files">
        <Link to="/fleet/hires">Back to the hires</Link>. Hires as CSV are under{' '}
        <Link to="/fleet/files">Files in and out</Link>.
      </PageHead>
      <Leaves of={FLEET_LEAVES} label="Fleet" />
      <Feeds />
      {maySteer && bases.length > 0 && <CalendarFile />}
    </>
  );
}
