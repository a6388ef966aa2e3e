import { tables } from '../db/index.ts';
import type { Handlers } from '../http/api.ts';
import { lockVersion, nextVersion } from '../http/version.ts';

const { setting } = tables;

export const planSettingsHandlers: Handlers<'editPlanSettings'> = {
  editPlanSettings: ({ body, write }) =>
    write(async (tx, audit) => {
      const { version, ...rest } = body;
      const before = await lockVersion(tx, setting, 1, version, 'page of settings');
      const [row] = await tx
        .update(setting)
        .set({ ...rest, ...nextVersion(setting) })
        .returning();
      await audit({ act: 'changed', subject: 'settings', title: 'planning', before, after: rest });
      return { version: row!.version };
    }),
};
