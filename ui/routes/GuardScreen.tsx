import { useState } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { useMutation, useQuery } from '@tanstack/react-query';
import { showNumbersIn } from '../../core/calls/dialling';
import type { OpenTo, TollFinding } from '../../core/assurance/checks';
import type { Settings, TollGuard } from '../../core/estate';
import { api, isApiError, messageOf } from '../data/api';
import { queryClient } from '../data/data';
import { useGuard } from '../data/routing';
import { useCanEdit } from '../data/session';
import { space, useIsWide, usePalette } from '../kit/theme';
import { PageFrame } from '../kit/PageFrame';
import { Button, Empty, Field, Fold, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { E164_BEGINNING, SeveralField } from '../kit/SeveralField';
import { Sheet } from '../kit/Sheet';
import { Words } from '../kit/Words';

const PATHS: Record<TollFinding['kind'], (id: string) => string> = {
  person: (id) => `/people/${encodeURIComponent(id)}`,
  'own-targets': (id) => `/people/${encodeURIComponent(id)}`,
  group: (id) => `/groups/${encodeURIComponent(id)}`,
  menu: (id) => `/menus/${encodeURIComponent(id)}`,
  route: () => '/routes/table',
};

/** Who and what can reach premium numbers and those that are watched. */
export function GuardScreen() {
  const canEdit = useCanEdit();
  const report = useGuard();
  const [open, setOpen] = useState(false);
  if (report.isError)
    return <Trouble message={messageOf(report.error)} retry={() => void report.refetch()} />;
  if (report.isPending) return <Skeleton />;
  const { guard, premium, permissions, findings } = report.data;
  const faults = findings.filter(({ weight }) => weight === 'fault').length;
  return (
    <PageFrame title="Fraud protection" term="fraud-protection" back={null}>
      <Section>
        <Words size="lead" strong>
          {findings.length === 0
            ? 'Nothing leads to a number that is watched.'
            : faults === 0
              ? `No call is led to a number that is watched; ${findings.length === 1 ? 'one thing' : `${findings.length} things`} to look at.`
              : `${faults === 1 ? 'One plan, group or menu leads' : `${faults} plans, groups or menus lead`} calls to a number that is watched.`}
        </Words>
        <Words>
          {`Watched are premium numbers (${premium.join(', ') || 'none in this country'})${guard.prefixes.length > 0 ? ` and all that begins with ${guard.prefixes.join(', ')}` : ''}. ${guard.ownTargets === undefined ? 'How many outside numbers a person may set is not limited.' : `A person may set ${guard.ownTargets} outside numbers at most.`}`}
        </Words>
        {canEdit ? <Button label="Change what is watched" onPress={() => setOpen(true)} /> : null}
      </Section>
      <Section title="What leads there">
        {findings.length === 0 ? (
          <Empty
            title="Nothing"
            text="No plan, forward, group, menu or route leads to a number that is watched."
          />
        ) : (
          <LinkRows>
            {findings.map((finding, i) => (
              <LinkRow
                key={`${finding.kind} ${finding.id} ${i}`}
                title={finding.name}
                text={showNumbersIn(finding.says)}
                mark={
                  <Words size="small" strong tone={finding.weight === 'fault' ? 'rust' : 'ochre'}>
                    {finding.weight === 'fault' ? 'Open' : 'Look at it'}
                  </Words>
                }
                href={PATHS[finding.kind](finding.id)}
              />
            ))}
          </LinkRows>
        )}
      </Section>
      <Section title="Who can call what">
        {permissions.map((each) => (
          <PermissionReach key={each.id} open={each} guard={guard} />
        ))}
      </Section>
      {open ? <GuardSheet guard={guard} onClose={() => setOpen(false)} /> : null}
    </PageFrame>
  );
}

function PermissionReach({ open, guard }: { open: OpenTo; guard: TollGuard }) {
  const palette = usePalette();
  const router = useRouter();
  const wide = useIsWide();
  const reach = [open.premium ? 'premium numbers' : '', ...open.prefixes].filter(Boolean);
  return (
    <View
      style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet, padding: space(3) }}
    >
      <View style={{ flexDirection: wide ? 'row' : 'column', gap: space(2) }}>
        <Words strong style={wide ? { width: 260 } : {}}>
          {`${open.name}: ${open.people.length === 1 ? 'one person' : `${open.people.length} people`}`}
        </Words>
        <Words tone={reach.length > 0 ? 'rust' : 'kelp'} style={{ flex: 1 }}>
          {reach.length > 0
            ? `Can call ${reach.join(', ')}`
            : guard.prefixes.length > 0
              ? 'Can call neither premium numbers nor any that is watched'
              : 'Cannot call premium numbers'}
        </Words>
      </View>
      {open.people.length > 0 ? (
        <View style={{ marginHorizontal: -space(3) }}>
          <Fold title="Who has it">
            <View style={{ flexDirection: 'row', flexWrap: 'wrap', paddingHorizontal: space(3) }}>
              {open.people.map(({ id, name }) => (
                <Button
                  key={id}
                  kind="quiet"
                  label={name}
                  onPress={() => router.navigate(`/people/${encodeURIComponent(id)}`)}
                />
              ))}
            </View>
          </Fold>
        </View>
      ) : null}
    </View>
  );
}

function GuardSheet({ guard, onClose }: { guard: TollGuard; onClose: () => void }) {
  const settings = useQuery({
    queryKey: ['/api/settings'],
    queryFn: () => api<{ settings: Settings }>('GET', '/api/settings'),
  });
  const [prefixes, setPrefixes] = useState<readonly string[] | null>(guard.prefixes);
  const [limit, setLimit] = useState(guard.ownTargets === undefined ? '' : String(guard.ownTargets));
  const save = useMutation({
    mutationFn: () =>
      api('PUT', '/api/settings', {
        before: settings.data?.settings,
        settings: {
          ...settings.data?.settings,
          fraudProtection: { prefixes, ...(limit === '' ? {} : { ownTargets: Number(limit) }) },
        },
      }),
    onSuccess: () => {
      void queryClient.invalidateQueries();
      onClose();
    },
  });
  return (
    <Sheet
      title="What is watched"
      open
      onClose={onClose}
      action={{
        label: 'Put live',
        disabled: prefixes === null || !settings.data,
        busy: save.isPending,
        onPress: () => save.mutate(),
      }}
    >
      {save.isError ? (
        <Trouble
          message={
            isApiError(save.error) && save.error.faults.length > 0
              ? save.error.faults.map(({ message }) => message).join(' ')
              : messageOf(save.error)
          }
        />
      ) : null}
      <SeveralField
        label="Numbers that begin with, beside premium ones"
        values={guard.prefixes}
        fits={E164_BEGINNING}
        example="+371"
        onChange={setPrefixes}
      />
      <Field
        label="Outside numbers that a person may set, empty: no limit"
        mono
        keyboard="decimal-pad"
        value={limit}
        onChange={(text) => setLimit(text.replace(/\D/g, '').slice(0, 3))}
      />
    </Sheet>
  );
}
