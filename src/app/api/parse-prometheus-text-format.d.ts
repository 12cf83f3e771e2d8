declare module 'parse-prometheus-text-format' {
  interface Measure {
    value?: string;
    buckets?: Record<string, string>;
  }
  export default function parse(text: string): { name: string; help: string; type: string; metrics: Measure[] }[];
}
