declare module 'vcd-parser' {
  export function parse(text: string): Promise<unknown>;
}
