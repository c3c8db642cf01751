import { X509Certificate } from 'node:crypto';
import type { ResultSetHeader, RowDataPacket } from 'mysql2/promise';
import { issueFor, newAuthority } from '../../standins/certificate';
import type { Db, Queryable } from '../db';
import { type Keyring, putSecret, readSecret } from '../secrets';
import type { Authority } from '../../api/provisioning';

const OURS = 'Hostler’s stand-ins';
const KEY = 'phone-authority/ours';
/** The extended key usage of those who prove themselves as clients, id-kp-clientAuth. */
const CLIENT_AUTH = '1.3.6.1.5.5.7.3.2';

interface Kept extends Authority {
  readonly certificate: X509Certificate;
}
const keptOf = (row: RowDataPacket): Kept => {
  const certificate = new X509Certificate(String(row.certificate));
  return {
    id: Number(row.id),
    name: String(row.name),
    fingerprint: String(row.fingerprint),
    until: new Date(certificate.validTo).toISOString(),
    isOurs: Number(row.is_ours) === 1,
    certificate,
  };
};
async function readKept(db: Queryable): Promise<readonly Kept[]> {
  const [rows] = await db.query<RowDataPacket[]>('SELECT * FROM phone_authority ORDER BY is_ours, name');
  return rows.map(keptOf);
}

export const readAuthorities = async (db: Queryable): Promise<readonly Authority[]> =>
  (await readKept(db)).map(({ certificate: _certificate, ...authority }) => authority);

async function put(db: Queryable, name: string, pem: string, isOurs: boolean, at: Date): Promise<void> {
  const { fingerprint256 } = new X509Certificate(pem);
  await db.execute(
    `INSERT INTO phone_authority (name, certificate, fingerprint, is_ours, added_at) VALUES (?, ?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE name = VALUES(name)`,
    [name, pem, fingerprint256, isOurs, at],
  );
}

/** Why a certificate cannot stand for a maker, in words; null: it can. */
export function authorityFault(pem: string, at: Date): string | null {
  let certificate: X509Certificate;
  try {
    certificate = new X509Certificate(pem);
  } catch {
    return 'is no certificate in PEM (RFC 7468)';
  }
  if (!certificate.ca) return 'is not one that may issue others';
  if (new Date(certificate.validTo) < at) return 'has run out';
  return null;
}
/** @throws where it is no certificate */
export const addAuthority = (db: Queryable, name: string, pem: string, at: Date): Promise<void> =>
  put(db, name, pem, false, at);

export async function removeAuthority(db: Queryable, id: number): Promise<boolean> {
  const [{ affectedRows }] = await db.execute<ResultSetHeader>(
    'DELETE FROM phone_authority WHERE id = ? AND is_ours = FALSE',
    [id],
  );
  return affectedRows > 0;
}

/** A certificate for a stand-in, as from its maker; the authority is made when it is first needed. */
export async function certificateFor(
  db: Db,
  keyring: Keyring,
  address: string,
  at: Date,
): Promise<{ readonly key: string; readonly cert: string }> {
  const [ours] = (await readKept(db)).filter(({ isOurs }) => isOurs);
  let key = ours ? await readSecret(db, keyring, KEY) : null;
  let cert = ours?.certificate.toString();
  if (key === null || cert === undefined) {
    const made = await newAuthority(OURS, at);
    await putSecret(db, keyring, KEY, made.key);
    await put(db, OURS, made.cert, true, at);
    [key, cert] = [made.key, made.cert];
  }
  return issueFor({ key, cert }, address, at);
}

/**
 * Whose certificate a phone has shown: the hardware address that it was issued for by a maker that is believed
 * (RFC 5280). The TLS handshake has shown already that the phone has its key.
 * @param der the certificate as it came
 * @returns why it is not believed where it is not
 */
export async function addressOfCertificate(
  db: Queryable,
  der: Buffer,
  at: Date,
): Promise<{ readonly address: string } | { readonly why: string }> {
  let shown: X509Certificate;
  try {
    shown = new X509Certificate(der);
  } catch {
    return { why: 'Its certificate cannot be read' };
  }
  const issuer = (await readKept(db)).find(
    ({ certificate }) => shown.checkIssued(certificate) && shown.verify(certificate.publicKey),
  );
  if (!issuer) return { why: 'Its certificate is from a certificate authority that is not trusted' };
  for (const each of [shown, issuer.certificate])
    if (new Date(each.validFrom) > at || new Date(each.validTo) <= at)
      return { why: 'Its certificate has run out, or is not good yet' };
  // One that says what it is for must be for those who ask (RFC 5280, section 4.2.1.12).
  if (shown.ca || (shown.keyUsage !== undefined && !shown.keyUsage.includes(CLIENT_AUTH)))
    return { why: 'Its certificate is for servers, not for phones' };
  const name = /(?:^|\n)CN=([0-9A-F:]+)(?:\n|$)/.exec(shown.subject)?.[1]?.replaceAll(':', '');
  return name === undefined ? { why: 'Its certificate names no MAC address' } : { address: name };
}
