import { View } from 'react-native';
import { shortName } from '../../core/calls/engine';
import { space } from '../kit/theme';
import { Toggle } from '../kit/Toggle';
import { Words } from '../kit/Words';

const today = () => new Date().toISOString().slice(0, 10);

/** Whether a colleague has agreed to calls that are not theirs, and when. */
export function AgreedSwitch({
  name,
  agreedOn,
  onChange,
}: {
  readonly name: string;
  /** "YYYY-MM-DD" */
  readonly agreedOn: string | undefined;
  readonly onChange: (agreedOn: string | undefined) => void;
}) {
  return (
    <View style={{ flexDirection: 'row', alignItems: 'center', gap: space(3) }}>
      <View style={{ flex: 1 }}>
        <Words strong>{`${shortName(name)} has agreed`}</Words>
        <Words size="small" tone={agreedOn ? 'soft' : 'ochre'}>
          {agreedOn
            ? `On ${agreedOn}, as recorded here.`
            : 'Not recorded. Calls will come there that are not theirs: ask first.'}
        </Words>
      </View>
      <Toggle
        value={agreedOn !== undefined}
        onChange={(agreed) => onChange(agreed ? today() : undefined)}
        label={`${name} has agreed`}
      />
    </View>
  );
}
