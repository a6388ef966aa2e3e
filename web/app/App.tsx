import { ThemeProvider } from '@mui/material/styles';
import { Suspense, lazy, useCallback, useEffect, useMemo, useState } from 'react';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { writeAs } from '../ui/format.ts';
import { Empty, Waiting, Wrong } from '../ui/parts.tsx';
import { peopleApi } from '../people/api.ts';
import { HOME } from './rooms.ts';
import { Shell } from './Shell.tsx';
import { isLocked, rememberPerson } from './device.ts';
import { Locked } from './Locked.tsx';
import { SignIn } from './SignIn.tsx';
import { useAppSelector } from './store.ts';
import { makeTheme } from './theme.ts';
import { useMe } from './useBook.ts';

/** Each room is a file of its own, fetched when it is opened. */
const Day = lazy(() => import('../day/Day.tsx').then((m) => ({ default: m.Day })));
const Hours = lazy(() => import('../usage/Hours.tsx').then((m) => ({ default: m.Hours })));
const Back = lazy(() => import('../day/Back.tsx').then((m) => ({ default: m.Back })));
const Due = lazy(() => import('../service/Due.tsx').then((m) => ({ default: m.Due })));
const Plan = lazy(() => import('../planner/Plan.tsx').then((m) => ({ default: m.Plan })));
const Jobs = lazy(() => import('../jobs/Jobs.tsx').then((m) => ({ default: m.Jobs })));
const JobCard = lazy(() => import('../jobs/JobCard.tsx').then((m) => ({ default: m.JobCard })));
const Stores = lazy(() => import('../stores/Stores.tsx').then((m) => ({ default: m.Stores })));
const Orders = lazy(() => import('../ordering/Orders.tsx').then((m) => ({ default: m.Orders })));
const Suppliers = lazy(() => import('../ordering/Suppliers.tsx').then((m) => ({ default: m.Suppliers })));
const Labels = lazy(() => import('../labels/Labels.tsx').then((m) => ({ default: m.Labels })));
const Count = lazy(() => import('../stores/Count.tsx').then((m) => ({ default: m.Count })));
const PickList = lazy(() => import('../day/PickList.tsx').then((m) => ({ default: m.PickList })));
const Money = lazy(() => import('../stores/Money.tsx').then((m) => ({ default: m.Money })));
const Part = lazy(() => import('../stores/Part.tsx').then((m) => ({ default: m.Part })));
const Boats = lazy(() => import('../fleet/Boats.tsx').then((m) => ({ default: m.Boats })));
const Boat = lazy(() => import('../fleet/Boat.tsx').then((m) => ({ default: m.Boat })));
const Engine = lazy(() => import('../fleet/Engine.tsx').then((m) => ({ default: m.Engine })));
const Models = lazy(() => import('../fleet/Models.tsx').then((m) => ({ default: m.Models })));
const Model = lazy(() => import('../fleet/Model.tsx').then((m) => ({ default: m.Model })));
const Bases = lazy(() => import('../fleet/Bases.tsx').then((m) => ({ default: m.Bases })));
const Hires = lazy(() => import('../hires/Hires.tsx').then((m) => ({ default: m.Hires })));
const Boxes = lazy(() => import('../gateway/Boxes.tsx').then((m) => ({ default: m.Boxes })));
const Calendars = lazy(() => import('../hires/Calendars.tsx').then((m) => ({ default: m.Calendars })));
const Files = lazy(() => import('../exchange/Files.tsx').then((m) => ({ default: m.Files })));
const Schools = lazy(() => import('../rules/Schools.tsx').then((m) => ({ default: m.Schools })));
const OwnRules = lazy(() => import('../rules/OwnRules.tsx').then((m) => ({ default: m.OwnRules })));
const Templates = lazy(() => import('../visit/Templates.tsx').then((m) => ({ default: m.Templates })));
const Life = lazy(() => import('../rules/Life.tsx').then((m) => ({ default: m.Life })));
const Minutes = lazy(() => import('../visit/Minutes.tsx').then((m) => ({ default: m.Minutes })));
const Season = lazy(() => import('../season/Season.tsx').then((m) => ({ default: m.Season })));
const Backwards = lazy(() => import('../season/Backwards.tsx').then((m) => ({ default: m.Backwards })));
const Batteries = lazy(() => import('../season/Batteries.tsx').then((m) => ({ default: m.Batteries })));
const SeasonShelf = lazy(() => import('../season/Shelf.tsx').then((m) => ({ default: m.Shelf })));
const SeasonPaper = lazy(() => import('../season/Paper.tsx').then((m) => ({ default: m.Paper })));
const PutOff = lazy(() => import('../season/PutOff.tsx').then((m) => ({ default: m.PutOff })));
const Year = lazy(() => import('../season/Year.tsx').then((m) => ({ default: m.Year })));
const UsedOil = lazy(() => import('../records/UsedOil.tsx').then((m) => ({ default: m.UsedOil })));
const Log = lazy(() => import('../service/Log.tsx').then((m) => ({ default: m.Log })));
const Mail = lazy(() => import('../records/Mail.tsx').then((m) => ({ default: m.Mail })));
const Background = lazy(() => import('../records/Background.tsx').then((m) => ({ default: m.Background })));
const LastDay = lazy(() => import('../records/LastDay.tsx').then((m) => ({ default: m.LastDay })));
const Audit = lazy(() => import('../records/Audit.tsx').then((m) => ({ default: m.Audit })));
const Halfway = lazy(() => import('../people/Halfway.tsx').then((m) => ({ default: m.Halfway })));
const Yard = lazy(() => import('../people/Yard.tsx').then((m) => ({ default: m.Yard })));

function Home() {
  return <Navigate to={HOME[useMe().role]} replace />;
}

function Door() {
  const [locked, setLocked] = useState(isLocked);
  const open = useCallback(() => {
    setLocked(false);
  }, []);
  return locked ? <Locked onOpen={open} /> : <OpenDoor />;
}

function OpenDoor() {
  const { data: session, error, refetch } = peopleApi.useReadSessionQuery();
  const { pathname } = useLocation();
  // Somebody was in, and did not leave by themselves: the session was ended.
  const [was, setWas] = useState<string | null>(null);
  const person = session?.person;
  // Before anything of the book is drawn; whoever changes it draws all of it anew.
  if (session) writeAs(session.writing);
  if (person && person.name !== was) setWas(person.name);
  useEffect(() => {
    if (person) rememberPerson(person);
  }, [person]);
  if (error && !session) {
    return (
      <main className="door">
        <Wrong error={error}>
          <button type="button" onClick={() => void refetch()}>
            Try again
          </button>
        </Wrong>
      </main>
    );
  }
  if (!session) return <Waiting />;
  if (session.person === null)
    return pathname === '/' ? (
      <SignIn ended={was} />
    ) : (
      <Routes>
        <Route path="*" element={<SignIn ended={was} />} />
      </Routes>
    );
  if (session.halfway)
    return (
      <Suspense fallback={<Waiting />}>
        <Halfway name={session.person.name} />
      </Suspense>
    );
  return (
    <Routes>
      <Route element={<Shell />}>
        <Route index element={<Home />} />
        <Route path="day" element={<Day />} />
        <Route path="day/hours" element={<Hours />} />
        <Route path="day/back" element={<Back />} />
        <Route path="due" element={<Due />} />
        <Route path="plan" element={<Plan />} />
        <Route path="jobs" element={<Jobs />} />
        <Route path="jobs/:id" element={<JobCard />} />
        <Route path="stores" element={<Stores />} />
        <Route path="stores/parts/:id" element={<Part />} />
        <Route path="stores/count" element={<Count />} />
        <Route path="stores/picks" element={<PickList />} />
        <Route path="stores/money" element={<Money />} />
        <Route path="stores/orders" element={<Orders />} />
        <Route path="stores/labels" element={<Labels />} />
        <Route path="stores/suppliers" element={<Suppliers />} />
        <Route path="fleet" element={<Boats />} />
        <Route path="fleet/boats/:id" element={<Boat />} />
        <Route path="fleet/engines/:id" element={<Engine />} />
        <Route path="fleet/models" element={<Models />} />
        <Route path="fleet/models/:id" element={<Model />} />
        <Route path="fleet/bases" element={<Bases />} />
        <Route path="fleet/boxes" element={<Boxes />} />
        <Route path="fleet/hires" element={<Hires />} />
        <Route path="fleet/hires/calendars" element={<Calendars />} />
        <Route path="fleet/files" element={<Files />} />
        <Route path="rules" element={<Schools />} />
        <Route path="rules/own" element={<OwnRules />} />
        <Route path="rules/steps" element={<Templates />} />
        <Route path="rules/life" element={<Life />} />
        <Route path="rules/minutes" element={<Minutes />} />
        <Route path="season" element={<Season />} />
        <Route path="season/plan" element={<Backwards />} />
        <Route path="season/batteries" element={<Batteries />} />
        <Route path="season/shelf" element={<SeasonShelf />} />
        <Route path="season/put-off" element={<PutOff />} />
        <Route path="season/paper" element={<SeasonPaper />} />
        <Route path="season/year" element={<Year />} />
        <Route path="records/waste" element={<UsedOil />} />
        <Route path="records" element={<Log />} />
        <Route path="records/audit" element={<Audit />} />
        <Route path="records/mail" element={<Mail />} />
        <Route path="records/background" element={<Background />} />
        <Route path="records/last-day" element={<LastDay />} />
        <Route path="yard" element={<Yard />} />
        <Route
          path="*"
          element={
            <Empty title="This page is not in the book.">
              The link may be old. Choose a tab at the left, or press / to find something.
            </Empty>
          }
        />
      </Route>
    </Routes>
  );
}

export function App() {
  const mode = useAppSelector((s) => s.book.mode);
  const theme = useMemo(() => makeTheme(mode), [mode]);
  return (
    <ThemeProvider theme={theme}>
      <BrowserRouter>
        <Door />
      </BrowserRouter>
    </ThemeProvider>
  );
}
