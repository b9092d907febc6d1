/** Bytes that stand in text as base64. @throws DOMException for text that is not */
export function fromBase64(text: string): Uint8Array {
  const signs = atob(text);
  const bytes = new Uint8Array(signs.length);
  for (let i = 0; i < signs.length; i++) bytes[i] = signs.charCodeAt(i);
  return bytes;
}
