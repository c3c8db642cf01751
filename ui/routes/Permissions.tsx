import type { DiallingPage, HeldPermission } from '../../api/routing';
import { useState } from 'react';
import { interpret, mayDialBy, NO_WAY_OUT, showNumber } from '../../core/calls/dialling';

import { useCanEdit } from '../data/session';
import { Button, Empty, Field, LinkRow, LinkRows, Section } from '../kit/parts';
import { FAULT_WORDS } from './WayPart';
import { Words } from '../kit/Words';
import { AddSheet, classesIn, ObjectSheet } from './ObjectSheet';

/** Permissions with who has them, and a number tried against each. */
export function Permissions({ page }: { page: DiallingPage }) {
  const canEdit = useCanEdit();
  const [typed, setTyped] = useState('');
  const [open, setOpen] = useState<string | null>(null);
  const [adding, setAdding] = useState(false);
  const read = typed.trim() === '' ? null : interpret(typed, page.dialling, new Set());
  const [fault] = read?.faults ?? [];
  const verdict = (permission: HeldPermission) => {
    if (!read?.e164) return null;
    const may = mayDialBy(permission, read.e164, page);
    return {
      ok: may.ok,
      says: may.ok
        ? `may, by ${page.trunks.find(({ id }) => id === may.trunk)?.name ?? ''}`
        : `may not: ${may.reason ? NO_WAY_OUT[may.reason] : ''}`,
    };
  };
  return (
    <Section
      title="Permissions"
      term="permission"
      aside={
        canEdit ? (
          <Button kind="quiet" icon="add" label="Add a permission" onPress={() => setAdding(true)} />
        ) : null
      }
    >
      <Field
        label="Try a number against them"
        mono
        keyboard="phone-pad"
        value={typed}
        onChange={setTyped}
        error={fault ? FAULT_WORDS[fault] : null}
        hint={
          read?.e164
            ? `${showNumber(read.e164)}, ${read.class ?? ''}; dialled as ${read.dialAs ?? ''}`
            : read && !fault
              ? 'Only outside numbers need a permission'
              : null
        }
      />
      {page.permissions.length === 0 ? (
        <Empty title="None yet" text="A permission says which numbers a line may call." />
      ) : (
        <LinkRows>
          {page.permissions.map((permission) => {
            const may = verdict(permission);
            const { held, allow, allowPrefixes = [], denyPrefixes = [] } = permission;
            return (
              <LinkRow
                key={permission.id}
                title={permission.name}
                text={[
                  `${held.length === 1 ? 'one person' : `${held.length} people`}: ${classesIn(allow)}`,
                  allowPrefixes.length > 0 ? `also ${allowPrefixes.join(', ')}` : '',
                  denyPrefixes.length > 0 ? `never ${denyPrefixes.join(', ')}` : '',
                ]
                  .filter(Boolean)
                  .join('; ')}
                {...(may
                  ? {
                      mark: (
                        <Words size="small" strong tone={may.ok ? 'kelp' : 'rust'} live>
                          {may.says}
                        </Words>
                      ),
                    }
                  : {})}
                onPress={() => setOpen(permission.id)}
              />
            );
          })}
        </LinkRows>
      )}
      {open ? <ObjectSheet kind="permission" id={open} page={page} onClose={() => setOpen(null)} /> : null}
      {adding ? <AddSheet kind="permission" onClose={() => setAdding(false)} /> : null}
    </Section>
  );
}
