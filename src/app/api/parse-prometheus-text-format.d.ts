declare module 'parse-prometheus-text-format' {
  interface Measure {
    value?: string;
    count?: string;
  }
  export default function parse(text: string): { name: string; help: string; type: string; metrics: Measure[] }[];
}
