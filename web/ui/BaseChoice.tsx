import { useBases } from '../app/useBook.ts';
import { Choice } from './parts.tsx';

/** One of the book's bases; `none` is what choosing none of them means, where that may be chosen. */
export function BaseChoice({
  label = 'Base',
  none,
  ...rest
}: {
  label?: string;
  none?: string;
  value: number | '';
  onChange: (baseId: number | '') => void;
  hideLabel?: boolean;
}) {
  const bases = useBases().map((b): [number, string] => [b.id, b.name]);
  return <Choice label={label} options={none === undefined ? bases : [['', none], ...bases]} {...rest} />;
}
