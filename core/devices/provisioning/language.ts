/**
 * The language that a phone shows for somebody: the longest beginning of their tag that the model speaks (lookup of
 * RFC 4647, section 3.4); null: it speaks none of it, or they have said none.
 * @param wanted a tag of RFC 5646
 */
export function languageFor(wanted: string | undefined, speaks: readonly string[]): string | null {
  for (let parts = wanted?.split('-') ?? []; parts.length > 0; parts = parts.slice(0, -1)) {
    const tag = parts.join('-').toLowerCase();
    const spoken = speaks.find((each) => each.toLowerCase() === tag);
    if (spoken !== undefined) return spoken;
  }
  return null;
}

const NAMES = new Intl.DisplayNames(['en'], { type: 'language' });
/** The name of a language in English. @param tag of RFC 5646; what is none stands as it is */
export function languageName(tag: string): string {
  try {
    return NAMES.of(tag) ?? tag;
  } catch {
    return tag;
  }
}
