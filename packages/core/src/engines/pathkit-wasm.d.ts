declare module 'pathkit-wasm' {
  export default function start(options: { wasmBinary: Uint8Array }): Promise<unknown>;
}
