/** A SIP address as it is being typed, with or without its scheme: how it is read, or that it is none yet. */
export function typedSip(text: string): {
  readonly uri: string | null;
  readonly shown: string | null;
  readonly error: string | null;
} {
  const typed = text.trim();
  const uri = /^sips?:/i.test(typed) ? typed : `sip:${typed}`;
  if (!/^sips?:[^\s@]+@[^\s@]+$/i.test(uri)) {
    const isBegun = typed !== '' && !/^sips?:$/i.test(typed);
    return { uri: null, shown: null, error: isBegun ? 'An address such as sip:name@host' : null };
  }
  const [, scheme = '', user = '', host = ''] = /^(sips?):([^@]+)@([^;?]+)/i.exec(uri) ?? [];
  const how = scheme.toLowerCase() === 'sips' ? ', encrypted all the way' : '';
  return { uri, shown: `“${user}” at ${host}${how}; it needs no permission to dial`, error: null };
}
