import type { FromStandins, Registration } from './messages';
import type { PartyNames } from '../core/calls/live';
import type { Binding, CallLadder, SystemEvent } from './system';

/**
 * What happens in the phone system, as the server is told of it.
 * @param registrationFor a registration as the server is told of it
 * @param namesFor who each address in a call’s messages is
 */
export const townEvents =
  (
    tell: (message: FromStandins) => void,
    registrationFor: (binding: Binding) => Registration,
    namesFor: (ladder: CallLadder) => PartyNames,
  ) =>
  (event: SystemEvent): void => {
    switch (event.kind) {
      case 'registration': {
        const { event: told } = event;
        if (told.kind === 'refused')
          tell({ kind: 'refused', user: told.user, from: told.from, why: told.why });
        else if (told.kind === 'removed' || told.kind === 'expired')
          tell({
            kind: 'unregistered',
            user: told.binding.user,
            contact: told.binding.contact,
            why: told.kind,
          });
        else
          tell({
            kind: 'registered',
            registration: registrationFor(told.binding),
          });
        return;
      }
      case 'call-went-on':
        // Its steps in words are not needed to say where it rings.
        return tell({ ...event, trace: { ...event.trace, events: [] } });
      case 'call-began':
      case 'call-settled':
      case 'call-over':
      case 'call-out':
      case 'messages-waiting':
      case 'seat-held':
        return tell(event);
      case 'call-ladder':
        return tell({ ...event, names: namesFor(event.ladder) });
    }
  };
