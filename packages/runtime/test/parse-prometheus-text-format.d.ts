declare module "parse-prometheus-text-format" {
  export default function parse(text: string): unknown;
}
