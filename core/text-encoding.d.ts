// The WHATWG Encoding classes exist in every browser, in workers and in Node.js, but TypeScript declares them
// only together with the DOM or with Node's types, both of which the core must do without.
declare class TextEncoder {
  encode(text: string): Uint8Array<ArrayBuffer>;
  encodeInto(text: string, into: Uint8Array): { read: number; written: number };
}
declare class TextDecoder {
  constructor(label?: string, options?: { fatal?: boolean });
  decode(bytes: Uint8Array): string;
}
