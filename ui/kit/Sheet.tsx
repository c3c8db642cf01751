import type { ReactNode } from 'react';
import { Modal, Pressable, ScrollView, View } from 'react-native';
import { space, useIsWide, usePalette } from './theme';
import { Button, IconButton } from './controls';
import { useClosedByBack } from './pages';
import { useStable } from './useStable';
import { Words } from './Words';

/** Rises from below on a phone; stands at the right on a wide screen. Escape and the ground behind it close it. */
export function Sheet({
  title,
  open,
  onClose,
  children,
  action,
  footer,
}: {
  readonly title: string;
  readonly open: boolean;
  readonly onClose: () => void;
  readonly children: ReactNode;
  /** The one thing to do here, as the main button at the bottom. */
  readonly action?: {
    readonly label: string;
    readonly onPress: () => void;
    readonly disabled?: boolean;
    readonly busy?: boolean;
  };
  /** Buttons at the bottom, where there are several things to do. */
  readonly footer?: ReactNode;
}) {
  const palette = usePalette();
  const wide = useIsWide();
  useClosedByBack(open, useStable(onClose));
  return (
    <Modal visible={open} transparent animationType="none" onRequestClose={onClose} aria-label={title}>
      <View style={{ flex: 1, flexDirection: wide ? 'row' : 'column', justifyContent: 'flex-end' }}>
        <Pressable
          aria-hidden
          tabIndex={-1}
          onPress={onClose}
          style={{ flex: 1, backgroundColor: palette.shade }}
        />
        <View
          style={{
            backgroundColor: palette.ground,
            borderColor: palette.line,
            ...(wide ? { width: 440, borderLeftWidth: 1 } : { maxHeight: '82%', borderTopWidth: 1 }),
          }}
        >
          <View
            style={{
              flexDirection: 'row',
              alignItems: 'center',
              paddingLeft: space(4),
              paddingRight: space(1),
              paddingVertical: space(1),
            }}
          >
            <Words size="title" strong heading={2} style={{ flex: 1 }}>
              {title}
            </Words>
            <IconButton icon="close" label="Close" onPress={onClose} />
          </View>
          <ScrollView
            style={{ flexShrink: 1 }}
            contentContainerStyle={{ padding: space(4), paddingTop: space(1), gap: space(4) }}
          >
            {children}
          </ScrollView>
          {action || footer ? (
            <View
              style={{
                flexDirection: 'row',
                gap: space(2),
                padding: space(4),
                borderTopWidth: 1,
                borderColor: palette.line,
              }}
            >
              {footer}
              {action ? <Button kind="main" grow {...action} /> : null}
            </View>
          ) : null}
        </View>
      </View>
    </Modal>
  );
}
