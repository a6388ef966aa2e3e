import { zodResolver } from '@hookform/resolvers/zod';
import { Button, Dialog, DialogActions, DialogContent, DialogTitle } from '@mui/material';
import { gatewayEdit, type Gateway } from '@diurna/contract/gateway';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { Link } from 'react-router';
import type { z } from 'zod';
import { gatewayApi } from './api.ts';
import { useMay } from '../app/useBook.ts';
import { FLEET_LEAVES } from '../fleet/index.ts';
import { BoatPick } from '../ui/BoatPick.tsx';
import { Field, FormSheet, Pick } from '../ui/form.tsx';
import { clockText, hoursText, plural } from '../ui/format.ts';
import { Asked, Empty, Heads, Leaves, PageHead } from '../ui/parts.tsx';
import { Lines } from '../ui/Lines.tsx';
import { RowAct } from '../ui/RowAct.tsx';

/** Boxes on boats that send engine time by themselves: what was heard of each, and what was refused. */
export function Boxes() {
  const { data, error } = gatewayApi.useListGatewaysQuery(undefined, { pollingInterval: 30_000 });
  const mayAdd = useMay('administrator');
  const [open, setOpen] = useState<Gateway | 'new' | null>(null);
  const [key, setKey] = useState<{ name: string; key: string } | null>(null);
  const [refused, setRefused] = useState<number | null>(null);
  return (
    <>
      <PageHead
        title="Boxes on boats"
        acts={
          mayAdd && (
            <Button
              onClick={() => {
                setOpen('new');
              }}>
              Add a box
            </Button>
          )
        }>
        Engine time that comes in by itself, as NMEA 2000 or Signal K.
      </PageHead>
      <Leaves of={FLEET_LEAVES} label="Fleet" />
      <Asked data={data} error={error} />
      {data?.length === 0 && (
        <Empty title="No box yet.">
          {mayAdd
            ? 'Add one: it gets a key and an address, and writes readings from then on.'
            : 'An administrator can add one; hours are typed until then.'}
        </Empty>
      )}
      {data && data.length > 0 && (
        <Lines>
          <Heads
            of={[
              'Box',
              'Boat',
              'Engines',
              'Last heard',
              { num: 'Taken' },
              { num: 'Again or late' },
              { num: 'Refused' },
              { unseen: 'Act' },
            ]}
          />
          <tbody>
            {data.map((g) => (
              <tr key={g.id}>
                <td>
                  <b>{g.name}</b>
                  {!g.active && <span className="faint">, not listened to</span>}
                </td>
                <td>
                  <Link to={`/fleet/boats/${g.boatId}`}>{g.boatName}</Link>
                </td>
                <td>
                  {g.engines.length === 0 ? (
                    <span className="faint">nothing yet</span>
                  ) : (
                    g.engines.map((e) => (
                      <div key={e.engineId}>
                        <Link to={`/fleet/engines/${e.engineId}`}>{e.engineName}</Link>{' '}
                        <span className="figure">{hoursText(e.hours)} h</span>
                      </div>
                    ))
                  )}
                </td>
                <td>
                  {g.heardAt ? clockText(g.heardAt) : 'never'}
                  {g.clockOff && <div className="soon">its clock is wrong</div>}
                </td>
                <td className="num figure">{g.tally.taken}</td>
                <td className="num figure">{g.tally.repeated + g.tally.late}</td>
                <td className="num">
                  {g.tally.refused > 0 ? (
                    <button
                      type="button"
                      className="link-button figure"
                      aria-expanded={refused === g.id}
                      aria-label={`${g.tally.refused} refused of ${g.name}, show why`}
                      onClick={() => {
                        setRefused(refused === g.id ? null : g.id);
                      }}>
                      {g.tally.refused}
                    </button>
                  ) : (
                    <span className="figure">0</span>
                  )}
                </td>
                <td className="num">
                  {mayAdd && (
                    <RowAct
                      of={`Edit ${g.name}`}
                      onPress={() => {
                        setOpen(g);
                      }}
                    />
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </Lines>
      )}
      {refused !== null && <Refusals id={refused} name={data?.find((g) => g.id === refused)?.name ?? ''} />}
      {open && (
        <BoxForm
          {...(open !== 'new' && { box: open })}
          onClose={() => {
            setOpen(null);
          }}
          onKey={setKey}
        />
      )}
      {key && (
        <Dialog
          open
          onClose={() => {
            setKey(null);
          }}
          maxWidth="sm"
          fullWidth>
          <DialogTitle>The key of {key.name}</DialogTitle>
          <DialogContent>
            <p>Copy it into the box now; it is shown this once.</p>
            <p>
              <code className="figure breaks">{key.key}</code>
            </p>
            <p>
              The box posts to <code>{location.origin}/api/gateway/messages</code> with the header{' '}
              <code>Authorization: Bearer {'<key>'}</code>.
            </p>
          </DialogContent>
          <DialogActions>
            <Button
              variant="contained"
              color="primary"
              onClick={() => {
                setKey(null);
              }}>
              It is copied
            </Button>
          </DialogActions>
        </Dialog>
      )}
    </>
  );
}

function Refusals({ id, name }: { id: number; name: string }) {
  const { data, error } = gatewayApi.useListRefusalsQuery(id);
  if (!data) return <Asked data={data} error={error} />;
  return (
    <section className="block above-l">
      <h2>Refused of {name}</h2>
      <p className="faint">The last {plural(data.length, 'message')}; none of them reached the readings.</p>
      <Lines>
        <Heads of={['When', 'Why', 'Message']} />
        <tbody>
          {data.map((r, i) => (
            <tr key={`${r.at} ${i}`}>
              <td className="faint whole">{clockText(r.at)}</td>
              <td>{r.why}</td>
              <td className="figure small breaks">{r.text}</td>
            </tr>
          ))}
        </tbody>
      </Lines>
    </section>
  );
}

function BoxForm({
  box,
  onClose,
  onKey,
}: {
  box?: Gateway;
  onClose: () => void;
  onKey: (key: { name: string; key: string }) => void;
}) {
  const [add, adding] = gatewayApi.useAddGatewayMutation();
  const [edit, editing] = gatewayApi.useEditGatewayMutation();
  const [renew, renewing] = gatewayApi.useRenewGatewayKeyMutation();
  const [boat, setBoat] = useState(box ? { id: box.boatId, name: box.boatName } : null);
  const { control, handleSubmit, setValue, formState } = useForm<z.input<typeof gatewayEdit>>({
    resolver: zodResolver(gatewayEdit),
    defaultValues: box
      ? { name: box.name, boatId: box.boatId, active: box.active }
      : { name: '', boatId: 0, active: true },
  });
  const save = handleSubmit(async (values) => {
    if (box) {
      const answer = await edit({ id: box.id, version: box.version, ...values });
      if (answer.data) onClose();
      return;
    }
    const answer = await add(values);
    if (!answer.data) return;
    onClose();
    onKey({ name: values.name, key: answer.data.key });
  });
  const newKey = async () => {
    if (!box) return;
    const answer = await renew({ id: box.id, version: box.version });
    if (!answer.data) return;
    onClose();
    onKey({ name: box.name, key: answer.data.key });
  };
  return (
    <FormSheet
      title={box ? `Edit ${box.name}` : 'A new box'}
      act={box ? 'Keep the changes' : 'Add the box'}
      onClose={onClose}
      onSubmit={() => void save()}
      error={adding.error ?? editing.error ?? renewing.error}
      busy={adding.isLoading || editing.isLoading}>
      <div className="full">
        <Field control={control} name="name" label="Name" autoFocus />
      </div>
      <div className="full">
        <BoatPick
          value={boat}
          fault={formState.errors.boatId ? 'Choose a boat' : undefined}
          onChange={(b) => {
            setBoat(b);
            setValue('boatId', b?.id ?? 0, { shouldValidate: formState.isSubmitted });
          }}
        />
      </div>
      <Pick
        control={control}
        name="active"
        label="Listened to"
        options={[
          [true, 'yes'],
          [false, 'no'],
        ]}
      />
      {box && (
        <div className="full">
          <Button onClick={() => void newKey()}>Give it a new key</Button>{' '}
          <span className="faint">The old key is void at once.</span>
        </div>
      )}
    </FormSheet>
  );
}
