import { Button } from '@mui/material';
import { useState } from 'react';
import { workCalendarApi } from './api.ts';
import { Wrong } from '../ui/parts.tsx';
import { Box } from '../ui/Box.tsx';

/** One's own work as a calendar that other programs can follow. */
export function CalendarAddress() {
  const [give, { data, error, isLoading }] = workCalendarApi.useGiveCalendarKeyMutation();
  const [copied, setCopied] = useState(false);
  const address = data ? `${location.origin}${data.path}` : null;
  return (
    <section className="block">
      <h2>Your work in your calendar</h2>
      <p>
        A calendar program that follows addresses (iCalendar) shows your cards at their hours. Whoever has the address
        can read them; a new one ends the old.
      </p>
      {address && (
        <p>
          <label className="choice full">
            <span className="choice-label">The address, shown this once</span>
            <Box
              readOnly
              value={address}
              wide
              onFocus={(e) => {
                e.target.select();
              }}
            />
          </label>
        </p>
      )}
      <div className="tools">
        <Button
          disabled={isLoading}
          onClick={() => {
            setCopied(false);
            void give();
          }}>
          {address ? 'Make another' : 'Make an address'}
        </Button>
        {address && (
          <Button
            onClick={() =>
              void navigator.clipboard.writeText(address).then(() => {
                setCopied(true);
              })
            }>
            {copied ? 'Copied' : 'Copy it'}
          </Button>
        )}
      </div>
      <Wrong error={error} />
    </section>
  );
}
