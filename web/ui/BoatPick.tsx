import { Autocomplete, TextField } from '@mui/material';
import { useState } from 'react';
import { fleetApi } from '../fleet/api.ts';

interface Chosen {
  id: number;
  name: string;
}

/** Finds a boat by a few letters of its name, in a fleet of any size. */
export function BoatPick({
  value,
  onChange,
  fault,
}: {
  value: Chosen | null;
  onChange: (boat: Chosen | null) => void;
  fault?: string | undefined;
}) {
  const [q, setQ] = useState('');
  const { data, isFetching } = fleetApi.useListBoatsQuery({
    page: 1,
    size: 20,
    ...(q.trim() && q !== value?.name && { q: q.trim() }),
  });
  return (
    <Autocomplete
      size="small"
      options={data?.rows.map(({ id, name }): Chosen => ({ id, name })) ?? []}
      value={value}
      loading={isFetching}
      autoHighlight
      getOptionLabel={(b) => b.name}
      isOptionEqualToValue={(a, b) => a.id === b.id}
      filterOptions={(all) => all}
      noOptionsText="No boat of that name"
      onInputChange={(_, text) => {
        setQ(text);
      }}
      onChange={(_, boat) => {
        onChange(boat);
      }}
      renderInput={(params) => <TextField {...params} label="Boat" error={fault !== undefined} helperText={fault} />}
    />
  );
}
