/** The form of the package that runs without a window: in workers, and here on the server. */
declare module 'soundfont2/lib/SoundFont2.node.js' {
  export * from 'soundfont2';
}
