import { zodResolver } from '@hookform/resolvers/zod';
import { Button } from '@mui/material';
import { planSettings } from '@diurna/contract/planner';
import { useForm } from 'react-hook-form';
import type { z } from 'zod';
import type { Reply } from '../app/api.ts';
import { say, useAppDispatch } from '../app/store.ts';
import { useSession } from '../app/useBook.ts';
import { plannerApi } from '../planner/api.ts';
import { Field, MoneyField } from '../ui/form.tsx';
import { Wrong } from '../ui/parts.tsx';

/** What a plan is weighed by: late work, moves, an hour, a day on hire. */
export function PlanWeights({ settings }: { settings: Reply<'readWorkCalendar'>['settings'] }) {
  const dispatch = useAppDispatch();
  const [edit, { error, isLoading }] = plannerApi.useEditPlanSettingsMutation();
  const currency = useSession()?.currency ?? 'EUR';
  const { control, handleSubmit } = useForm<z.input<typeof planSettings>>({
    resolver: zodResolver(planSettings),
    defaultValues: settings,
  });
  const save = handleSubmit(async (values) => {
    if ((await edit({ ...values, version: settings.version })).data)
      dispatch(say({ tone: 'done', text: 'Plans are weighed by these figures from now on.' }));
  });
  return (
    <form
      noValidate
      className="block"
      onSubmit={(e) => {
        e.preventDefault();
        void save();
      }}>
      <h2>What plans are weighed by</h2>
      <div className="form-grid measure room-below">
        <Field
          control={control}
          name="lateWeightPercent"
          label="Late work weighs (%)"
          kind="number"
          help="100 = as estimated; more: earlier work"
        />
        <MoneyField
          control={control}
          name="moveCostMinor"
          label={`Moving a task (${currency})`}
          help="more: new plans change less"
        />
        <MoneyField control={control} name="rateMinor" label={`An hour of work (${currency})`} />
        <MoneyField
          control={control}
          name="hireDayMinor"
          label={`A day on hire (${currency})`}
          help="usually; boats may have their own"
        />
      </div>
      <Wrong error={error} />
      <Button type="submit" disabled={isLoading}>
        Keep the figures
      </Button>
    </form>
  );
}
