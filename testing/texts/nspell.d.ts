/** The package ships no types; this is as much of it as is used. */
declare module 'nspell' {
  interface Speller {
    correct(word: string): boolean;
    add(word: string): Speller;
  }
  export default function nspell(dictionary: {
    readonly aff: Uint8Array;
    readonly dic: Uint8Array;
  }): Speller;
}
