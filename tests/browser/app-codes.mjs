import { createHmac } from 'node:crypto';

/** What an authenticator app shows for a key in Base32 (RFC 6238: SHA-1, six digits, thirty seconds). */
export function appCode(key, steps = 0) {
  const bits = [...key.replace(/\s/g, '')].map((c) => 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567'.indexOf(c).toString(2).padStart(5, '0')).join('');
  const counter = Buffer.alloc(8);
  counter.writeBigInt64BE(BigInt(Math.floor(Date.now() / 30_000) + steps));
  const hash = createHmac('sha1', Buffer.from(bits.match(/.{8}/g).map((byte) => parseInt(byte, 2)))).update(counter).digest();
  return String((hash.readUInt32BE(hash[19] & 15) & 0x7fffffff) % 1_000_000).padStart(6, '0');
}
