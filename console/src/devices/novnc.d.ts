/** As much of the viewer as is used here; it comes without types. */
declare module '@novnc/novnc' {
  export default class RFB extends EventTarget {
    constructor(target: HTMLElement, url: string, options?: { shared?: boolean });
    scaleViewport: boolean;
    viewOnly: boolean;
    background: string;
    sendKey(keysym: number, code: string, down?: boolean): void;
    disconnect(): void;
  }
}
