import type { Part } from '@diurna/contract/stores';
import { Autocomplete, TextField } from '@mui/material';
import { useState } from 'react';
import { storesApi } from './api.ts';

/** Finds a part by a few letters of its number or name, among any number of them; picked, it is empty again. */
export function PartPick({ label, onPick }: { label: string; onPick: (part: Part) => void }) {
  const [q, setQ] = useState('');
  const { data, isFetching } = storesApi.useListPartsQuery({ page: 1, size: 20, ...(q.trim() && { q: q.trim() }) });
  return (
    <Autocomplete
      size="small"
      options={data?.rows ?? []}
      value={null}
      inputValue={q}
      loading={isFetching}
      autoHighlight
      blurOnSelect
      getOptionLabel={(p) => `${p.number}, ${p.name}`}
      filterOptions={(all) => all}
      noOptionsText="No part of that number or name"
      onInputChange={(_, text, why) => {
        if (why === 'input') setQ(text);
      }}
      onChange={(_, part) => {
        if (part === null) return;
        setQ('');
        onPick(part);
      }}
      renderInput={(params) => <TextField {...params} label={label} />}
    />
  );
}
