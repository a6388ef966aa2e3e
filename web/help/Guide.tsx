import { Button, Drawer } from '@mui/material';
import { useLocation } from 'react-router';
import { guideOf } from './guides.ts';
import './help.css';

const KEYS: [string, string][] = [
  ['1 – 9', 'Day, Due, Plan, Jobs, Stores, Fleet, Rules, Records'],
  ['/', 'Find a boat, engine, part, person, room, rule or guide'],
  ['.', 'Back to today'],
  ['← →', 'On the ribbon: the day before, the day after'],
  ['↑ ↓ Enter', 'On the hours sheet: up and down the column'],
  ['Ctrl Z', 'In Plan: undo; with Shift: redo'],
  ['Esc', 'Close what is open'],
  ['?', 'This guide'],
];

/** `?`: what this page is for, how it is worked, and the keys. @param of another page than the one that is open */
export function Guide({ of, onClose }: { of: string | null; onClose: () => void }) {
  const { pathname } = useLocation();
  const guide = guideOf(of ?? pathname);
  return (
    <Drawer
      open
      anchor="right"
      onClose={onClose}
      slotProps={{ paper: { className: 'guide', role: 'dialog', 'aria-label': 'Guide' } }}>
      <header className="guide-head">
        <h2>{guide?.title ?? 'This book'}</h2>
        <Button onClick={onClose}>Close</Button>
      </header>
      {guide && (
        <>
          <p className="guide-about">{guide.about}</p>
          <ul className="guide-how">
            {guide.how.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </>
      )}
      <h3>Keys</h3>
      <table className="keys">
        <tbody>
          {KEYS.map(([key, does]) => (
            <tr key={key}>
              <th scope="row">
                <kbd>{key}</kbd>
              </th>
              <td>{does}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </Drawer>
  );
}
