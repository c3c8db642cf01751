import { useMutation } from '@tanstack/react-query';
import { View } from 'react-native';
import type { WayAsked, WayTry } from '../../api/networks';
import type { NetworkPhone } from '../../core/estate';
import {
  networkAround,
  NOT_TRIED_WORDS,
  lostWords,
  triedBeside,
  triedWords,
  whyNotTried,
  type PathVerdicts,
  type SiteNetworkOf,
} from '../../core/network';
import { api } from '../data/api';
import { Button, Fold, Refused } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

/** What is computed of a phone, tried with real packets behind stand-in routers that do what its boxes do. */
export function TryWayPart({
  of,
  phone,
  verdicts,
  nameOf,
}: {
  readonly of: SiteNetworkOf;
  readonly phone: NetworkPhone;
  readonly verdicts: PathVerdicts;
  readonly nameOf: (id: string) => string;
}) {
  const why = whyNotTried(of.network, phone.id);
  const body: WayAsked = {
    network: networkAround(of, phone.id),
    phone: phone.id,
  };
  const key = JSON.stringify(body);
  const trying = useMutation({
    mutationFn: async () => ({ of: key, ...(await api<WayTry>('POST', '/api/networks/try', body)) }),
  });
  if (why !== null)
    return (
      <Words size="small" tone="soft">
        {`Not tried with real packets. ${NOT_TRIED_WORDS[why]}`}
      </Words>
    );
  // What was tried before something was changed says nothing of how it is now.
  const done = trying.data?.of === key ? triedBeside(verdicts, trying.data.tried) : null;
  const others = done?.filter(({ computed, tried }) => computed !== tried.works) ?? [];
  return (
    <View style={{ gap: space(2) }}>
      <View style={{ flexDirection: 'row' }}>
        <Button
          label={done ? 'Try it again' : 'Try it with real packets'}
          busy={trying.isPending}
          onPress={() => trying.mutate()}
        />
      </View>
      <Words size="small" tone="soft" live={trying.isPending}>
        {trying.isPending
          ? 'A stand-in phone registers and calls from behind stand-in routers. This takes some seconds.'
          : 'A stand-in phone behind stand-in routers, set as described here: real SIP, sound, STUN and TURN. Silences take no time: the routers’ clock is set forward.'}
      </Words>
      <Refused error={trying.error} />
      {done ? (
        <>
          <Words strong live tone={others.length === 0 ? 'kelp' : 'rust'}>
            {others.length === 0
              ? `Tried: all ${done.length} answers are as computed.`
              : `Tried: ${others.length} of ${done.length} ${others.length === 1 ? 'answer is' : 'answers are'} not as computed.`}
          </Words>
          {others.map((each) => (
            <Words key={triedWords(each)} tone="rust">
              {triedWords(each)}
            </Words>
          ))}
          <Fold title="What was tried">
            <View role="list" style={{ gap: space(1) }}>
              {done.map((each) => (
                <View key={triedWords(each)} role="listitem">
                  <Words size="small">{triedWords(each)}</Words>
                  {each.tried.lost ? (
                    <Words size="small" tone="soft" mono>
                      {lostWords(each.tried.lost, nameOf)}
                    </Words>
                  ) : null}
                </View>
              ))}
            </View>
          </Fold>
        </>
      ) : null}
    </View>
  );
}
