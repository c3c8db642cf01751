import type { MediaOptions, MediaPort } from '../media/port';

/** Opens the sound of one call. @param places whether the phone places it */
export type OpenMedia = (
  options: Omit<MediaOptions, 'address' | 'socket'>,
  places?: boolean,
) => Promise<MediaPort>;
