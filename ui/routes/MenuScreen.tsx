import type { ObjectPage } from '../../api/objects';
import { useMemo } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { showNumber } from '../../core/calls/dialling';
import { menuGreetingFaults, saidOf } from '../../core/assurance/checks';
import { addCase, editWhen, isForEveryCall, mergeSlices, moveCase } from '../../core/editing';
import type { Menu, MenuRule, SimpleEnding } from '../../core/estate';
import { compileEstate, endingPhrase } from '../../core/calls/engine';
import { describeWhen } from '../../core/calls/views';
import { messageOf } from '../data/api';
import { useObject, useObjectWork } from '../data/objects';
import { useMet } from '../data/met';
import { useCanEdit } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { ObjectBar } from '../edit/ObjectBar';
import { PermissionChoice } from '../edit/PermissionChoice';
import { RemovePart } from '../edit/RemovePart';
import { WithFindings } from '../findings/WithFindings';
import { PageFrame } from '../kit/PageFrame';
import { CallerChoice } from '../plan/CallerChoice';
import { EndingEditor } from '../plan/EndingEditor';
import { scheduleOf, scheduleOptions, scheduleValue } from '../edit/scheduleChoice';
import { Button, Choice, Field, Fold, IconButton, Section, Skeleton, Trouble } from '../kit/parts';
import { TimeField } from '../kit/TimeField';
import { TryStrip } from '../calls/TryStrip';
import { Words } from '../kit/Words';

const KEYS = [...'1234567890*#'];

export function MenuScreen({ id }: { readonly id: string }) {
  const page = useObject<Menu>('menu', id);
  if (page.isError) return <Trouble message={messageOf(page.error)} retry={() => void page.refetch()} />;
  if (page.isPending) return <Skeleton />;
  return <MenuView key={id} page={page.data} />;
}

function MenuView({ page }: { page: ObjectPage<Menu> }) {
  const palette = usePalette();
  const canEdit = useCanEdit();
  const router = useRouter();
  const work = useObjectWork('menu', page);
  const met = useMet((state) => state.part);
  const menu = work.object;
  const slice = useMemo(() => {
    const whole = mergeSlices(page.slice, met);
    return { ...whole, menus: whole.menus.map((each) => (each.id === menu.id ? menu : each)) };
  }, [page.slice, met, menu]);
  const index = useMemo(() => compileEstate(slice), [slice]);
  const keys = useMemo(
    () => ({
      menu: menu.id,
      keys: [...new Set(menu.rules.flatMap((rule) => rule.choices.map((choice) => choice.key)))],
    }),
    [menu],
  );
  const setRule = (i: number, patch: Partial<MenuRule>) =>
    work.edit((before) => ({
      ...before,
      rules: before.rules.map((rule, n) => (n === i ? { ...rule, ...patch } : rule)),
    }));
  const last = menu.rules.at(-1);
  const faults = menuGreetingFaults(menu, {
    person: (id) => index.people.get(id)?.name,
    group: (id) => index.groups.get(id)?.name,
    menu: (id) => index.menus.get(id)?.name,
  });
  return (
    <PageFrame
      title={menu.name}
      text={[menu.extension, ...(menu.numbers ?? []).map(showNumber)].join('  ')}
      back={{ path: '/groups', label: 'Back to groups and menus' }}
      bar={<ObjectBar work={work} />}
    >
      <WithFindings subject={`menu/${page.object.id}`}>
        <TryStrip
          slice={slice}
          to={menu.extension}
          presses={keys}
          {...(work.changed ? {} : { whom: { menu: menu.id, name: menu.name } })}
        />
        {faults.map((fault) => (
          <Words
            key={fault.setting + fault.key}
            tone="rust"
            style={{ paddingHorizontal: space(4), paddingTop: space(2) }}
          >
            {fault.text}
          </Words>
        ))}
        {canEdit ? (
          <Section>
            <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'center', gap: space(2) }}>
              <Words tone="soft" style={{ flexGrow: 1, flexBasis: 220 }}>
                {menu.rules.length > 1 ? 'The first case that fits decides.' : 'One case, for every call.'}
              </Words>
              <Button
                icon="add"
                label="Add a case"
                onPress={() => work.edit((before) => addCase(before, slice.schedules))}
              />
            </View>
            {last && isForEveryCall(last) ? null : (
              <Words tone="rust" live>
                No case is for every call: calls that fit none are lost. Let the last one be for always and
                anybody.
              </Words>
            )}
          </Section>
        ) : null}
        {menu.rules.map((rule, i) => (
          <Section key={rule.id} title={describeWhen(index, rule.when)}>
            <View style={{ borderWidth: 1, borderColor: palette.line, backgroundColor: palette.sheet }}>
              {[
                ...rule.choices.map(({ key, then }) => [`Key ${key}`, then] as const),
                ['No key', rule.otherwise] as const,
              ].map(([when, then]) => (
                <View key={when} style={{ flexDirection: 'row', gap: space(3), padding: space(3) }}>
                  <Words strong style={{ width: 64 }}>
                    {when}
                  </Words>
                  <Words style={{ flex: 1 }}>{endingPhrase(index, then, undefined)}</Words>
                </View>
              ))}
            </View>
            {canEdit ? (
              <View style={{ marginHorizontal: -space(4) }}>
                <Fold title="Change it">
                  <View style={{ paddingHorizontal: space(4), gap: space(4) }}>
                    <Choice
                      titled
                      label="Hours"
                      value={scheduleValue(rule.when.schedule)}
                      options={scheduleOptions(slice.schedules)}
                      onChange={(next) =>
                        setRule(i, { when: editWhen(rule.when, 'schedule', scheduleOf(next)) })
                      }
                    />
                    <CallerChoice
                      caller={rule.when.caller}
                      dialling={slice.dialling}
                      onChange={(caller) => setRule(i, { when: editWhen(rule.when, 'caller', caller) })}
                    />
                    {menu.rules.length > 1 ? (
                      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
                        <Button
                          icon="up"
                          label="Asked earlier"
                          disabled={i === 0}
                          onPress={() => work.edit((before) => moveCase(before, i, i - 1))}
                        />
                        <Button
                          icon="down"
                          label="Asked later"
                          disabled={i === menu.rules.length - 1}
                          onPress={() => work.edit((before) => moveCase(before, i, i + 1))}
                        />
                        <Button
                          kind="quiet"
                          label="Remove this case"
                          onPress={() =>
                            work.edit((before) => ({
                              ...before,
                              rules: before.rules.filter((_, n) => n !== i),
                            }))
                          }
                        />
                      </View>
                    ) : null}
                    <TimeField
                      label="The greeting lasts"
                      value={rule.greetingMs}
                      onChange={(ms) => ms !== null && setRule(i, { greetingMs: ms })}
                    />
                    <TimeField
                      label="Then silence for"
                      value={rule.waitMs}
                      onChange={(ms) => ms !== null && setRule(i, { waitMs: ms })}
                    />
                    {rule.choices.map((choice, c) => (
                      <View
                        key={choice.key}
                        style={{ gap: space(2), borderTopWidth: 1, borderColor: palette.line }}
                      >
                        <View style={{ flexDirection: 'row', alignItems: 'center' }}>
                          <Words strong style={{ flex: 1 }}>{`Key ${choice.key}`}</Words>
                          <IconButton
                            icon="close"
                            label={`Remove key ${choice.key}`}
                            onPress={() => setRule(i, { choices: rule.choices.filter((_, n) => n !== c) })}
                          />
                        </View>
                        <EndingEditor
                          label={`Key ${choice.key} leads to`}
                          ending={choice.then}
                          estate={slice}
                          index={index}
                          owner={null}
                          holder={work.object}
                          canQueue={false}
                          onPermission={(permission) => work.edit((before) => ({ ...before, permission }))}
                          onChange={(then) =>
                            setRule(i, {
                              choices: rule.choices.map((each, n) =>
                                n === c ? { ...each, then: then as SimpleEnding } : each,
                              ),
                            })
                          }
                        />
                      </View>
                    ))}
                    <OfferKey rule={rule} onAdd={(choices) => setRule(i, { choices })} />
                    <EndingEditor
                      label="No key"
                      ending={rule.otherwise}
                      estate={slice}
                      index={index}
                      owner={null}
                      holder={work.object}
                      canQueue={false}
                      onPermission={(permission) => work.edit((before) => ({ ...before, permission }))}
                      onChange={(otherwise) => setRule(i, { otherwise: otherwise as SimpleEnding })}
                    />
                    <Field
                      label="What the recorded greeting says"
                      multiline
                      value={rule.greeting?.text ?? ''}
                      onChange={(text) => setRule(i, { greeting: { says: rule.greeting?.says ?? [], text } })}
                    />
                    <Button
                      label="It says what the keys do"
                      onPress={() =>
                        setRule(i, { greeting: { ...rule.greeting, says: rule.choices.map(saidOf) } })
                      }
                    />
                  </View>
                </Fold>
              </View>
            ) : null}
          </Section>
        ))}
        {canEdit ? (
          <Section title="Dials out by the permission">
            <PermissionChoice
              value={menu.permission}
              onChange={(permission) => work.edit((before) => ({ ...before, permission }))}
            />
          </Section>
        ) : null}
        {canEdit ? (
          <Section>
            <RemovePart
              kind="menu"
              id={page.object.id}
              name={page.object.name}
              label="Remove this menu"
              onRemoved={() => router.navigate('/groups')}
            />
          </Section>
        ) : null}
      </WithFindings>
    </PageFrame>
  );
}

function OfferKey({ rule, onAdd }: { rule: MenuRule; onAdd: (choices: MenuRule['choices']) => void }) {
  const free = KEYS.find((key) => !rule.choices.some((choice) => choice.key === key));
  return free ? (
    <Button
      kind="quiet"
      icon="add"
      label={`Offer key ${free}`}
      onPress={() => onAdd([...rule.choices, { key: free, then: { kind: 'hang-up', message: '' } }])}
    />
  ) : null;
}
