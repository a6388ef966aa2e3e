import type { modelEdit } from '@diurna/contract/fleet';
import { GENERIC_MODELS } from '@diurna/core/fleet';
import { useState } from 'react';
import type { UseFormReturn } from 'react-hook-form';
import type { z } from 'zod';
import { Choice } from '../ui/parts.tsx';

/** A size to begin a new model with; its programme is the usual one of that size until somebody changes it. */
export function StartFrom({ setValue }: { setValue: UseFormReturn<z.input<typeof modelEdit>>['setValue'] }) {
  const [chosen, setChosen] = useState('');
  return (
    <div className="tools">
      <Choice
        label="Begin with"
        value={chosen}
        options={[['', 'a size ...'], ...GENERIC_MODELS.map((m): [string, string] => [m.word, m.word])]}
        onChange={(word) => {
          setChosen(word);
          const like = GENERIC_MODELS.find((m) => m.word === word);
          if (!like) return;
          setValue('powerHp', like.powerHp);
          setValue('stroke', like.stroke);
          setValue('cylinders', like.cylinders);
          if (like.stroke === 2) setValue('sump', null);
        }}
      />
      <span className="faint">
        Volumes and torques stay open: read them off the plate or the maker’s manual. Until then cards say “by the
        manual”.
      </span>
    </div>
  );
}
