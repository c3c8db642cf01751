/** What pages are told of as it changes. */
export const NEWS_TOPICS = ['estate', 'routing', 'record', 'slates'] as const;
export type NewsTopic = (typeof NEWS_TOPICS)[number];
export interface NewsEvent {
  readonly topics: readonly NewsTopic[];
}
