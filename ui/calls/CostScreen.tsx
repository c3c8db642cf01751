import { useState } from 'react';
import { View } from 'react-native';
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { CostPage, TariffRow } from '../../api/records';
import { api, faultsOf, isApiError, messageOf } from '../data/api';
import { useLongWork } from '../data/calls';
import { chooseFile } from '../data/files';
import { useCanEdit, useZone } from '../data/session';
import { sayWhen } from '../desks/when';
import { PageFrame } from '../kit/PageFrame';
import { Button, Choice, Empty, Field, LinkRow, LinkRows, Section, Skeleton, Trouble } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { CallPages } from './CallPages';
import { DaysChoice, Figures, Worked, type Days } from './parts';
import { sayLength, sayMoney, sayNumber } from './words';

const TARIFFS = ['/api/tariffs'];

/** What calls cost by a tariff: the dearest numbers, and what forwarding costs whom. */
export function CostScreen() {
  const [days, setDays] = useState<Days>(28);
  const [chosen, setChosen] = useState<number | null>(null);
  const tariffs = useQuery({
    queryKey: TARIFFS,
    queryFn: () => api<{ readonly tariffs: readonly TariffRow[] }>('GET', '/api/tariffs'),
  });
  const rows = tariffs.data?.tariffs ?? [];
  const tariff = rows.find(({ id }) => id === chosen) ?? rows[0];
  const work = useLongWork<CostPage>(tariff ? `/api/calls/cost?days=${days}&tariff=${tariff.id}` : null);
  return (
    <PageFrame
      title="Cost"
      text="What calls to outside numbers cost, by your tariff"
      back={{ path: '/calls', label: 'Back to the calls' }}
    >
      <CallPages path="/calls/cost" />
      {tariffs.isError ? (
        <Trouble message={messageOf(tariffs.error)} retry={() => void tariffs.refetch()} />
      ) : tariffs.isPending ? (
        <Skeleton rows={3} />
      ) : (
        <>
          {tariff ? (
            <Section>
              <DaysChoice days={days} onDays={setDays} />
              {rows.length > 1 ? (
                <Choice
                  label="By which tariff"
                  value={String(tariff.id)}
                  options={rows.map(({ id, name }) => ({ value: String(id), label: name }))}
                  onChange={(value) => setChosen(Number(value))}
                />
              ) : null}
            </Section>
          ) : (
            <Empty
              title="No tariff yet"
              text="Put in what your carrier charges: a CSV file with prefix and price per minute; name, price per call, first and next interval in seconds, a date from which it counts and a trunk where you have them."
            />
          )}
          {tariff ? <Worked work={work}>{(page) => <CostView page={page} />}</Worked> : null}
          <TariffPart rows={rows} />
        </>
      )}
    </PageFrame>
  );
}

function CostView({ page }: { readonly page: CostPage }) {
  const { currency, total, numbers, people, unpriced, days } = page;
  return (
    <>
      <Section title={`${sayMoney(total, currency)} in ${days} days`}>
        {unpriced.length > 0 ? (
          <Words tone="ochre" strong>
            {`The tariff has no price for ${unpriced.length === 1 ? 'one number' : `${unpriced.length} numbers`}: ${unpriced.slice(0, 6).map(sayNumber).join(', ')}${unpriced.length > 6 ? ' and more' : ''}.`}
          </Words>
        ) : null}
      </Section>
      <Section title="What forwarding costs, by person">
        {people.length === 0 ? (
          <Words tone="soft">No call of these days went on to anybody’s mobile or landline.</Words>
        ) : (
          <LinkRows>
            {people.map((each) => (
              <LinkRow
                key={each.person}
                title={each.name}
                text={`${sayMoney(each.total, currency)} for ${each.legs} calls; ${sayMoney((each.total * 30) / days, currency)} in a month of 30 days`}
                href={`/people/${encodeURIComponent(each.person)}`}
              />
            ))}
          </LinkRows>
        )}
      </Section>
      <Section title="The dearest numbers">
        <Figures
          label="The dearest numbers"
          headings={['Number', 'Where', 'Calls', 'Charged', 'Cost']}
          rows={numbers.map(({ number, name, legs, seconds, total: cost }) => [
            sayNumber(number),
            name,
            String(legs),
            sayLength(seconds * 1000),
            sayMoney(cost, currency),
          ])}
        />
      </Section>
    </>
  );
}

/** The tariffs there are, and a new one from a file. */
function TariffPart({ rows }: { readonly rows: readonly TariffRow[] }) {
  const canEdit = useCanEdit();
  const zone = useZone();
  const client = useQueryClient();
  const [currency, setCurrency] = useState('CAD');
  const again = () => client.invalidateQueries({ queryKey: TARIFFS });
  const add = useMutation({
    mutationFn: async () => {
      const file = await chooseFile('.csv,text/csv');
      if (!file) return null;
      const query = new URLSearchParams({ name: file.name.replace(/\.csv$/i, ''), currency });
      return api<{ id: number }>('POST', `/api/tariffs?${query.toString()}`, file);
    },
    onSuccess: again,
  });
  const remove = useMutation({
    mutationFn: (id: number) => api('DELETE', `/api/tariffs/${id}`),
    onSuccess: again,
  });
  if (!canEdit && rows.length === 0) return null;
  const isCurrency = /^[A-Za-z]{3}$/.test(currency.trim());
  return (
    <Section title="Tariffs">
      <View role="list">
        {rows.map(({ id, name, lines, who, at, currency: money }) => (
          <View
            role="listitem"
            key={id}
            style={{ flexDirection: 'row', alignItems: 'center', gap: space(2), minHeight: 48 }}
          >
            <Words
              style={{ flex: 1 }}
            >{`${name}: ${lines} lines in ${money}, put in ${sayWhen(at, zone)} by ${who}`}</Words>
            {canEdit ? (
              <Button kind="quiet" label={`Remove ${name}`} onPress={() => remove.mutate(id)} />
            ) : null}
          </View>
        ))}
      </View>
      {canEdit ? (
        <View style={{ flexDirection: 'row', flexWrap: 'wrap', alignItems: 'flex-end', gap: space(2) }}>
          <View style={{ width: 190 }}>
            <Field
              label="Currency (ISO 4217)"
              mono
              value={currency}
              onChange={setCurrency}
              error={isCurrency ? null : 'Three letters'}
              hint="Where the file does not say it"
            />
          </View>
          <Button
            label="Choose a tariff file"
            disabled={!isCurrency}
            busy={add.isPending}
            onPress={() => add.mutate()}
          />
        </View>
      ) : null}
      {add.isError ? (
        <View role="alert">
          <Words tone="rust" strong>
            {isApiError(add.error) ? add.error.message : messageOf(add.error)}
          </Words>
          {faultsOf(add.error).map(({ path, message }) => (
            <Words key={`${path}${message}`} tone="rust">{`${path}: ${message}`}</Words>
          ))}
        </View>
      ) : null}
      {remove.isError ? <Words tone="rust">{messageOf(remove.error)}</Words> : null}
    </Section>
  );
}
