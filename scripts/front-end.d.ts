/* What the scripts in laberinto/web/static/js may count on beyond the browser's own types. */

/** Events of htmx and Sortable tell in their detail what they are about. */
interface Event {
  readonly detail: any;
}

/** Events are listened to on the document; what they happened to is an element, or the document itself. */
interface EventTarget {
  readonly closest?: (selector: string) => any;
  readonly matches?: any;
  readonly getAttribute?: any;
  readonly dataset?: any;
  readonly files?: FileList;
  readonly form?: any;
  readonly id?: any;
  readonly name?: any;
  value?: any;
}

declare const htmx: {
  ajax(verb: string, path: string, context: object): Promise<void>;
  process(element: Element): void;
  values(element: Element, way: string): Record<string, string>;
  trigger(element: Element | string, event: string, detail?: object): void;
};

declare const Idiomorph: { defaults: { callbacks: object } };

declare class Sortable {
  static create(list: Element, options: object): Sortable;
  destroy(): void;
}

interface Window {
  htmx: typeof htmx;
}
