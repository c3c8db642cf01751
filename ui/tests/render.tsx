import type { ReactElement } from 'react';
import { render } from '@testing-library/react-native';
import { PaperProvider } from 'react-native-paper';
import { View } from 'react-native';

/** Renders a component as the application does, under its theme's provider and with no icon font. */
export const show = (element: ReactElement) =>
  render(<PaperProvider settings={{ icon: () => <View /> }}>{element}</PaperProvider>);
