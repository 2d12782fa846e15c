/** Headers of a file to keep, with a name that any system takes. */
export function fileHeaders(name: string, extension: string, type: string): Record<string, string> {
  const safe =
    name
      .replace(/[^\p{L}\p{N} ._-]+/gu, ' ')
      .trim()
      .slice(0, 80) || 'dowser'
  const plain = safe.replace(/[^\x20-\x7e]/g, '_')
  return {
    'Content-Type': `${type}; charset=utf-8`,
    'Content-Disposition': `attachment; filename="${plain}.${extension}"; filename*=UTF-8''${encodeURIComponent(safe)}.${extension}`,
    'Cache-Control': 'no-store',
  }
}
