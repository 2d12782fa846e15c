import { createCipheriv, createDecipheriv, randomBytes, scryptSync } from 'node:crypto'
import { readFileSync, writeFileSync } from 'node:fs'
import path from 'node:path'

const NONCE = 12
const TAG = 16

/** Keeps secrets of destinations unreadable for whoever has only the workspace's file. */
export interface Sealer {
  seal: (text: string) => Buffer
  /** @throws Error where it was sealed with another key */
  open: (sealed: Buffer) => string
}

/**
 * Seals with AES-256-GCM, under a key of the settings; where there is none, under one that is made and kept beside the
 * data, readable for its owner alone.
 */
export function sealer(secret: string, dataDir: string): Sealer {
  const key = secret === '' ? ownKey(dataDir) : scryptSync(secret, 'destinations', 32)
  return {
    seal(text) {
      const nonce = randomBytes(NONCE)
      const cipher = createCipheriv('aes-256-gcm', key, nonce)
      const sealed = Buffer.concat([cipher.update(text, 'utf8'), cipher.final()])
      return Buffer.concat([nonce, cipher.getAuthTag(), sealed])
    },
    open(sealed) {
      const decipher = createDecipheriv('aes-256-gcm', key, sealed.subarray(0, NONCE))
      decipher.setAuthTag(sealed.subarray(NONCE, NONCE + TAG))
      return Buffer.concat([decipher.update(sealed.subarray(NONCE + TAG)), decipher.final()]).toString('utf8')
    },
  }
}

function ownKey(dataDir: string): Buffer {
  const file = path.join(dataDir, 'secret.key')
  try {
    writeFileSync(file, randomBytes(32).toString('base64'), { mode: 0o600, flag: 'wx' })
  } catch (error) {
    if ((error as { code?: string }).code !== 'EEXIST') throw error
  }
  return Buffer.from(readFileSync(file, 'utf8'), 'base64')
}
