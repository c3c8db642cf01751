import 'reflect-metadata';
import { webcrypto } from 'node:crypto';
import {
  BasicConstraintsExtension,
  ExtendedKeyUsage,
  ExtendedKeyUsageExtension,
  KeyUsageFlags,
  KeyUsagesExtension,
  PemConverter,
  SubjectAlternativeNameExtension,
  X509Certificate,
  X509CertificateGenerator,
  cryptoProvider,
} from '@peculiar/x509';

/** A certificate with its key, both in PEM (RFC 7468). */
export interface KeyAndCertificate {
  readonly key: string;
  readonly cert: string;
}

/** How long a stand-in's own certificate is good for, in ms. */
const VALID_MS = 365 * 24 * 3600_000;
const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' };
/** Clocks of phones differ a little. */
const EARLIER_MS = 60_000;

async function newKeys(): Promise<CryptoKeyPair> {
  cryptoProvider.set(webcrypto as Crypto);
  return (await webcrypto.subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])) as CryptoKeyPair;
}
const pemOf = async ({ privateKey }: CryptoKeyPair): Promise<string> =>
  `${PemConverter.encode(await webcrypto.subtle.exportKey('pkcs8', privateKey), 'PRIVATE KEY')}\n`;

async function signItself(
  name: string,
  mayIssue: boolean,
  more: readonly (KeyUsagesExtension | SubjectAlternativeNameExtension)[],
  at: Date,
): Promise<KeyAndCertificate> {
  const keys = await newKeys();
  const certificate = await X509CertificateGenerator.createSelfSigned({
    name: `CN=${name}`,
    keys,
    signingAlgorithm: ALGORITHM,
    notBefore: new Date(at.getTime() - EARLIER_MS),
    notAfter: new Date(at.getTime() + VALID_MS),
    extensions: [new BasicConstraintsExtension(mayIssue), ...more],
  });
  return { key: await pemOf(keys), cert: certificate.toString('pem') };
}

/** Makes a key and a certificate that signs itself, for TLS on loopback (RFC 5280, ECDSA with P-256). */
export const selfSigned = (at = new Date()): Promise<KeyAndCertificate> =>
  signItself(
    'Hostler stand-in',
    false,
    [
      new SubjectAlternativeNameExtension([
        { type: 'ip', value: '127.0.0.1' },
        { type: 'dns', value: 'localhost' },
      ]),
    ],
    at,
  );

/** Makes the key and certificate of a maker of phones. */
export const newAuthority = (name: string, at = new Date()): Promise<KeyAndCertificate> =>
  signItself(name, true, [new KeyUsagesExtension(KeyUsageFlags.keyCertSign, true)], at);

/** Issues a phone its certificate, as its maker does: its name is the hardware address. */
export async function issueFor(
  authority: KeyAndCertificate,
  macAddress: string,
  at = new Date(),
  use: 'client' | 'server' = 'client',
): Promise<KeyAndCertificate> {
  const keys = await newKeys();
  const issuer = new X509Certificate(authority.cert);
  const signingKey = (await webcrypto.subtle.importKey(
    'pkcs8',
    PemConverter.decodeFirst(authority.key),
    ALGORITHM,
    false,
    ['sign'],
  )) as CryptoKey;
  const certificate = await X509CertificateGenerator.create({
    subject: `CN=${macAddress}`,
    issuer: issuer.subject,
    signingKey,
    publicKey: keys.publicKey,
    signingAlgorithm: ALGORITHM,
    notBefore: new Date(at.getTime() - EARLIER_MS),
    notAfter: new Date(at.getTime() + VALID_MS),
    extensions: [
      new BasicConstraintsExtension(false),
      new KeyUsagesExtension(KeyUsageFlags.digitalSignature, true),
      new ExtendedKeyUsageExtension([
        use === 'client' ? ExtendedKeyUsage.clientAuth : ExtendedKeyUsage.serverAuth,
      ]),
    ],
  });
  return { key: await pemOf(keys), cert: certificate.toString('pem') };
}
