import { useEffect, useRef, useState } from 'react';
import { View } from 'react-native';
import type { RecordingRow } from '../../api/rounds';
import { messageOf } from '../data/api';
import { chooseFile } from '../data/files';
import { soundPath, useAddRecording, useRecordings } from '../data/rounds';
import { Button, Choice, Field, Refused, Skeleton, Trouble } from '../kit/parts';
import { Sheet } from '../kit/Sheet';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { sayNoMicrophone, startRecorder, type Recorder } from './recorder';

const seconds = (ms: number) => `${Math.round(ms / 1000)} s`;

/** Which recording: one of those there are, a WAV file, or what is spoken here. */
export function RecordingPick({
  value,
  onChange,
  all = false,
}: {
  readonly value: number | null;
  readonly onChange: (id: number) => void;
  /** Whether the chosen one is offered where there is no other: nothing else says which it is. */
  readonly all?: boolean;
}) {
  const recordings = useRecordings();
  const [adding, setAdding] = useState<'file' | 'microphone' | null>(null);
  const others = recordings.data?.recordings.filter(({ id }) => id !== value) ?? [];
  return (
    <>
      {recordings.isError ? (
        <Trouble message={messageOf(recordings.error)} retry={() => void recordings.refetch()} />
      ) : recordings.isPending ? (
        <Skeleton rows={1} />
      ) : others.length > 0 || (all && recordings.data.recordings.length > 0) ? (
        <Choice
          label="Recordings"
          value={value === null ? null : String(value)}
          options={recordings.data.recordings.map(({ id, name, ms }) => ({
            value: String(id),
            label: `${name}, ${seconds(ms)}`,
          }))}
          onChange={(id) => onChange(Number(id))}
        />
      ) : null}
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <Button label="Upload a WAV file" onPress={() => setAdding('file')} />
        <Button label="Record here" onPress={() => setAdding('microphone')} />
      </View>
      {adding ? (
        <AddRecording
          from={adding}
          onAdded={(id) => {
            setAdding(null);
            onChange(id);
          }}
          onClose={() => setAdding(null)}
        />
      ) : null}
    </>
  );
}

/** What is heard, with a button to listen to it. */
export function RecordingHeard({ recording }: { readonly recording: RecordingRow }) {
  return (
    <View style={{ flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', gap: space(2) }}>
      <Words style={{ flexShrink: 1 }}>{`${recording.name}, ${seconds(recording.ms)}`}</Words>
      <Play id={recording.id} />
    </View>
  );
}

/** Plays a recording as it is heard on a telephone line. */
function Play({ id }: { readonly id: number }) {
  const audio = useRef<HTMLAudioElement | null>(null);
  const [isPlaying, setPlaying] = useState(false);
  useEffect(() => () => audio.current?.pause(), [id]);
  const toggle = () => {
    if (isPlaying) return audio.current?.pause();
    const sound = new Audio(soundPath(id));
    audio.current = sound;
    for (const name of ['pause', 'ended', 'error']) sound.addEventListener(name, () => setPlaying(false));
    setPlaying(true);
    sound.play().catch(() => setPlaying(false));
  };
  return <Button kind="quiet" label={isPlaying ? 'Stop' : 'Listen'} onPress={toggle} />;
}

function AddRecording({
  from,
  onAdded,
  onClose,
}: {
  readonly from: 'file' | 'microphone';
  readonly onAdded: (id: number) => void;
  readonly onClose: () => void;
}) {
  const add = useAddRecording(onAdded);
  const [name, setName] = useState('');
  const [sound, setSound] = useState<{ readonly wav: ArrayBuffer; readonly says: string } | null>(null);
  const pick = async () => {
    const file = await chooseFile('.wav,audio/wav,audio/x-wav');
    if (!file) return;
    add.reset();
    setSound({ wav: await file.arrayBuffer(), says: file.name });
    if (name.trim() === '') setName(file.name.replace(/\.wav$/i, ''));
  };
  return (
    <Sheet
      title={from === 'file' ? 'Upload a WAV file' : 'Record here'}
      open
      onClose={onClose}
      action={{
        label: 'Keep the recording',
        busy: add.isPending,
        disabled: sound === null || name.trim() === '',
        onPress: () => sound && add.mutate({ name: name.trim(), wav: sound.wav }),
      }}
    >
      {from === 'file' ? (
        <>
          <Words tone="soft">
            PCM of any rate, up to five minutes. It is made into what a telephone line carries.
          </Words>
          <View style={{ flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', gap: space(2) }}>
            <Button label="Choose a file" onPress={() => void pick()} />
            {sound ? <Words>{sound.says}</Words> : null}
          </View>
        </>
      ) : (
        <Microphone
          says={sound?.says ?? null}
          onSound={(wav, says) => {
            add.reset();
            setSound({ wav, says });
          }}
        />
      )}
      <Field label="Name of the recording" value={name} onChange={setName} />
      <Refused error={add.error} />
    </Sheet>
  );
}

function Microphone({
  says,
  onSound,
}: {
  readonly says: string | null;
  readonly onSound: (wav: ArrayBuffer, says: string) => void;
}) {
  const recorder = useRef<Recorder | null>(null);
  const began = useRef(0);
  const [state, setState] = useState<'still' | 'asking' | 'on' | 'reading'>('still');
  const [trouble, setTrouble] = useState<string | null>(null);
  useEffect(() => () => recorder.current?.cancel(), []);
  const start = async () => {
    setTrouble(null);
    setState('asking');
    try {
      recorder.current = await startRecorder();
      began.current = Date.now();
      setState('on');
    } catch (error) {
      setTrouble(sayNoMicrophone(error));
      setState('still');
    }
  };
  const stop = async () => {
    const running = recorder.current;
    recorder.current = null;
    if (!running) return;
    setState('reading');
    const ms = Date.now() - began.current;
    try {
      onSound(await running.stop(), `${seconds(ms)} recorded`);
    } catch {
      setTrouble('This recording could not be read. Record it again.');
    }
    setState('still');
  };
  return (
    <View style={{ gap: space(2) }}>
      <View style={{ flexDirection: 'row', alignItems: 'center', flexWrap: 'wrap', gap: space(2) }}>
        {state === 'on' ? (
          <Button label="Stop recording" onPress={() => void stop()} />
        ) : (
          <Button
            label={says ? 'Record again' : 'Start recording'}
            busy={state !== 'still'}
            onPress={() => void start()}
          />
        )}
        <Words live>{state === 'on' ? 'Recording …' : (says ?? '')}</Words>
      </View>
      {trouble ? (
        <Words tone="rust" live>
          {trouble}
        </Words>
      ) : null}
    </View>
  );
}
