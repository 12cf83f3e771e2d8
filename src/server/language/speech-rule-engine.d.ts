declare module 'speech-rule-engine' {
  interface Engine {
    setupEngine(settings: Record<string, string>): Promise<unknown>;
    engineReady(): Promise<unknown>;
    toSpeech(mathml: string): string;
  }
  const engine: Engine;
  export default engine;
}
