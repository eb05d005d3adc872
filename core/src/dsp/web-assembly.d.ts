// WebAssembly and `atob` exist in every browser, in workers and in Node.js, but TypeScript declares them only together with the
// DOM or with Node's types, both of which the core must do without.
declare namespace WebAssembly {
  class Module {
    constructor(bytes: Uint8Array<ArrayBuffer>);
  }
  class Instance {
    constructor(module: Module);
    readonly exports: Readonly<Record<string, unknown>>;
  }
}
declare function atob(text: string): string;
