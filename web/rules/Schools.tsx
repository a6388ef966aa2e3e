import { Button } from '@mui/material';
import { MANUAL_FIRST, SCHOOLS, type School, type SchoolKey } from '@diurna/core/service';
import type { SchoolAnswer } from '@diurna/contract/rules';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { rulesApi } from './api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useMay } from '../app/useBook.ts';
import { clockText, plural } from '../ui/format.ts';
import { Asked, Entry, Leaves, PageHead, Wrong } from '../ui/parts.tsx';
import { RULES_LEAVES } from './leaves.ts';
import { SideBySide } from './SideBySide.tsx';
import { StepsWould } from './StepsWould.tsx';
import { WhatItWould } from './WhatItWould.tsx';
import '../ui/rules.css';

/** Questions on which practised people differ, how this book answers them, and what another answer would do. */
export function Schools() {
  const { data, error } = rulesApi.useListSchoolsQuery();
  const { data: overrides = [] } = rulesApi.useListOverridesQuery();
  const asked = useSearchParams()[0].get('open');
  const [open, setOpen] = useState<SchoolKey | null>(SCHOOLS.find((s) => s.key === asked)?.key ?? 'impeller');
  const answerOf = (key: string) => data?.find((a) => a.school === key);
  const other = data?.filter((a) => a.answer !== SCHOOLS.find((s) => s.key === a.school)!.usual).length ?? 0;
  const list = (moves: boolean) => (
    <ul className="schools">
      {SCHOOLS.filter((s) => s.movesDates === moves).map((s) => {
        const answer = answerOf(s.key);
        return (
          answer && (
            <Question
              key={s.key}
              sought={s.key === asked}
              school={s}
              answer={answer}
              answers={data!}
              open={open === s.key}
              flip={() => {
                setOpen(open === s.key ? null : s.key);
              }}
            />
          )
        );
      })}
    </ul>
  );
  return (
    <>
      <PageHead title="Rules">
        {data &&
          `${plural(SCHOOLS.length, 'question')}, ${other === 0 ? 'all answered as usual' : `${other} answered otherwise than usual`}; ${plural(overrides.length, 'rule')} of their own`}
      </PageHead>
      <Leaves of={RULES_LEAVES} label="Rules" />
      <Asked data={data} error={error} />
      {data && (
        <>
          <h2>These move due dates</h2>
          <p className="faint">
            They hold where a model has the usual figures; a maker’s or the yard’s own figures in a programme stand.{' '}
            {MANUAL_FIRST}
          </p>
          {list(true)}
          <h2 className="above-l">These shape the work</h2>
          <p className="faint">
            They change the steps of cards, the parts they take or the list of a lay-up, and move no date. Cards already
            issued keep the answers they came with.
          </p>
          {list(false)}
        </>
      )}
    </>
  );
}

/** Puts what somebody looked for before their eyes. */
const inView = (place: HTMLElement | null) => {
  if (place && 'scrollIntoView' in place) place.scrollIntoView({ block: 'center' });
};

function Question({
  sought,
  school,
  answer,
  answers,
  open,
  flip,
}: {
  /** It was found by its words. */
  sought: boolean;
  school: School & { key: SchoolKey };
  answer: SchoolAnswer;
  /** All answers as they are. */
  answers: readonly SchoolAnswer[];
  open: boolean;
  flip: () => void;
}) {
  const maySteer = useMay('administrator', 'coordinator');
  const [chosen, setChosen] = useState<string | null>(null);
  const [reason, setReason] = useState('');
  const [keep, keeping] = rulesApi.useAnswerSchoolMutation();
  const dispatch = useAppDispatch();
  const wanted = chosen !== null && chosen !== answer.answer ? chosen : null;
  const word = (key: string) => school.options.find((o) => o.key === key)?.word ?? key;
  const save = async () => {
    if (wanted === null) return;
    const done = await keep({ school: school.key, answer: wanted, was: answer.answer, reason: reason.trim() });
    if (!done.data) return;
    setChosen(null);
    setReason('');
    dispatch(
      say({
        tone: 'done',
        text: `“${school.question}” is answered: ${word(wanted).toLowerCase()}.`,
        ...(school.movesDates && { link: { to: '/due', word: 'See what falls due' } }),
      }),
    );
  };
  const acts = (
    <div className="side-acts">
      <Entry label="Why it is answered otherwise" value={reason} maxLength={500} onType={setReason} />
      <Button
        variant="contained"
        color="primary"
        disabled={keeping.isLoading || reason.trim().length < 3}
        onClick={() => void save()}>
        Answer it so
      </Button>
      <Button
        onClick={() => {
          setChosen(null);
        }}>
        Leave it as it is
      </Button>
    </div>
  );
  return (
    <li ref={sought ? inView : undefined} className={open ? 'school open' : 'school'}>
      <button type="button" className="school-head" aria-expanded={open} onClick={flip}>
        <b>{school.question}</b>
        <span>
          {word(answer.answer)}
          {answer.answer === school.usual ? <span className="faint">, as usual</span> : ''}
        </span>
      </button>
      {open && (
        <div className="school-body">
          <fieldset disabled={!maySteer}>
            <legend className="visually-hidden">{school.question}</legend>
            {school.options.map((o) => (
              <label key={o.key} className="school-option">
                <input
                  type="radio"
                  name={school.key}
                  checked={(chosen ?? answer.answer) === o.key}
                  onChange={() => {
                    setChosen(o.key);
                  }}
                />
                <span>
                  <b>{o.word}</b>
                  {o.key === school.usual && <span className="usual-tag">usual</span>}
                  <br />
                  <span className="faint">{o.argument}</span>
                  {o.key === school.usual && (
                    <>
                      <br />
                      <span className="faint">Why usual: {school.because}</span>
                    </>
                  )}
                </span>
              </label>
            ))}
          </fieldset>
          {answer.by && answer.at && (
            <p className="faint small">
              Answered by {answer.by}, {clockText(answer.at)}.
            </p>
          )}
          <Wrong error={keeping.error} />
          {wanted !== null && (
            <>
              <StepsWould school={school.key} answer={wanted} answers={answers} />
              <WhatItWould change={{ school: school.key, answer: wanted }}>{acts}</WhatItWould>
            </>
          )}
          {school.movesDates && <SideBySide school={school.key} answer={answer.answer} />}
        </div>
      )}
    </li>
  );
}
