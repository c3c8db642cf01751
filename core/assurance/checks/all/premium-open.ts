import { settingOf } from '../../../estate';
import type { Check } from '../types';

export const premiumOpen: Check = {
  id: 'premium-open',
  of: 'organisation',
  weight: 'risk',
  title: 'Premium numbers may be called',
  looksFor: 'Permissions that allow premium numbers, held by anybody, with a trunk that carries them.',
  why: 'Toll fraud goes to premium numbers first.',
  run: ({ estate, groupParts }) => {
    const holders = groupParts('permission', ({ permission }) => ({ keys: [permission] })).all;
    const carried = estate.trunks.some(
      ({ carries, channels }) => channels > 0 && carries.includes('premium'),
    );
    return estate.permissions
      .filter(({ allow }) => carried && allow.includes('premium'))
      .flatMap((permission) => {
        const held = holders.get(permission.id)?.size ?? 0;
        if (held === 0) return [];
        const after = { ...permission, allow: permission.allow.filter((each) => each !== 'premium') };
        return [
          {
            subject: { kind: 'permission' as const, id: permission.id, name: permission.name },
            says: `“${permission.name}” allows premium numbers, and ${held} ${held === 1 ? 'person has' : 'people have'} it.`,
            evidence: [{ text: 'Classes', setting: settingOf('permissions', permission.id, 'allow') }],
            mend: {
              says: 'Take premium numbers out',
              entries: [
                {
                  kind: 'permission' as const,
                  id: permission.id,
                  name: permission.name,
                  base: permission,
                  after,
                },
              ],
            },
          },
        ];
      });
  },
};
