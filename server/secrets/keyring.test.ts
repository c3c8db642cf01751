import { mkdtempSync, readFileSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { openKeyring } from './keyring';

const newFile = () => join(mkdtempSync(join(tmpdir(), 'hostler-keyring-')), 'keys.json');

test('a secret opens for what it was sealed for, and for nothing else', () => {
  const keys = openKeyring(newFile());
  const sealed = keys.seal('pass phrase', 'account/ines');
  expect(keys.open(sealed, 'account/ines')).toBe('pass phrase');
  expect(() => keys.open(sealed, 'account/tomasz')).toThrow();
  expect(sealed.cipher.toString('latin1')).not.toContain('pass phrase');
});

test('a changed bit is noticed, and the same text is sealed differently each time', () => {
  const keys = openKeyring(newFile());
  const sealed = keys.seal('pass', 'a');
  const spoilt = Buffer.from(sealed.cipher);
  spoilt[0]! ^= 1;
  expect(() => keys.open({ ...sealed, cipher: spoilt }, 'a')).toThrow();
  expect(keys.seal('pass', 'a').cipher.equals(sealed.cipher)).toBe(false);
});

test('the keys are for their owner only, and are still there for the next process', () => {
  const file = newFile();
  const sealed = openKeyring(file).seal('pass', 'a');
  expect(statSync(file).mode & 0o077).toBe(0);
  expect(openKeyring(file).open(sealed, 'a')).toBe('pass');
});

test('after a new key the old one opens what it sealed, until it is dropped, also for a process that was running before', () => {
  const file = newFile();
  const running = openKeyring(file);
  const old = running.seal('pass', 'a');
  const other = openKeyring(file);
  other.addKey();
  const fresh = running.seal('pass', 'a');
  expect(fresh.keyId).not.toBe(old.keyId);
  expect(other.open(old, 'a')).toBe('pass');
  other.keepOnly([]);
  expect(other.open(fresh, 'a')).toBe('pass');
  expect(() => other.open(old, 'a')).toThrow(/is not in/);
});

test('a file of keys that is spoilt is said, not written over', () => {
  const file = newFile();
  openKeyring(file);
  const spoilt = readFileSync(file, 'utf8').replace(/:"[A-Za-z0-9+/=]{44}"/, ':"c2hvcnQ="');
  writeFileSync(file, spoilt);
  expect(() => openKeyring(file)).toThrow(/256 bits/);
  expect(readFileSync(file, 'utf8')).toBe(spoilt);
});
