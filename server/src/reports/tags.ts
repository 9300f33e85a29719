import { createRequire } from 'node:module';

/**
 * Structure in a PDF, for readers that speak or reflow it: headings and lines in their order, running feet set apart.
 * pdfmake writes words and knows no structure; its engine does, so each piece of text is marked as it is written.
 */

/** What the engine has beyond what pdfmake's types say. */
interface Element {
  add(content: unknown): unknown;
  end(): unknown;
}
interface Engine {
  _fontSize: number;
  page: { height: number; margins: { bottom: number } };
  text(text: string, x?: number, y?: number, options?: { textWidth?: number }): Engine;
  image(source: unknown, ...rest: unknown[]): Engine;
  markStructureContent(tag: string, options?: object): unknown;
  markContent(tag: string, options?: object): Engine;
  endMarkedContent(): Engine;
  struct(type: string, options?: object): Element;
  addStructure(element: Element): Engine;
  end(): void;
}

/** From so many points on a line is a heading: the paper's title, and those within it. */
const HEADINGS = [
  [16, 'H1'],
  [12, 'H2'],
] as const;
/** Within so many points two pieces stand on one line, or begin at one edge. */
const SAME_PT = 1;
/** A line so many times its letters' height below the one before, from the same edge on, goes on with it; a table's next row is further. */
const NEXT_LINE = 1.5;
/** The feet of the pages stand within this of the sheet's end, pt: see `pageMargins`. */
const FOOT_PT = 50;

/** The engine with marks: each paragraph or cell one element, in the order in which it is written. */
function marked(engine: Engine, alt: string): Engine {
  let line: { element: Element; page: Engine['page']; x: number; y: number; end: number; tag: string } | null = null;
  const root = engine.struct('Document');
  engine.addStructure(root);
  const { text, image, end: finish } = engine;
  const close = () => {
    line?.element.end();
    line = null;
  };
  engine.text = (words, x = 0, y = 0, options) => {
    if (y > engine.page.height - FOOT_PT) {
      engine.markContent('Artifact', { type: 'Pagination' });
      text.call(engine, words, x, y, options);
      return engine.endMarkedContent();
    }
    const tag = HEADINGS.find(([least]) => engine._fontSize >= least)?.[1] ?? 'P';
    const goesOn =
      line?.page === engine.page &&
      line.tag === tag &&
      // A word begins where the one before it ends, another cell elsewhere.
      ((Math.abs(y - line.y) < SAME_PT && Math.abs(x - line.end) < SAME_PT) ||
        (y > line.y && y - line.y < NEXT_LINE * engine._fontSize && Math.abs(x - line.x) < SAME_PT));
    const end = x + (options?.textWidth ?? 0);
    if (line && goesOn) Object.assign(line, { y, end });
    else {
      close();
      line = { element: engine.struct(tag), page: engine.page, x, y, end, tag };
      root.add(line.element);
    }
    line?.element.add(engine.markStructureContent(tag));
    text.call(engine, words, x, y, options);
    return engine.endMarkedContent();
  };
  engine.image = (source, ...rest) => {
    close();
    const figure = engine.struct('Figure', { alt });
    root.add(figure);
    figure.add(engine.markStructureContent('Figure'));
    image.call(engine, source, ...rest);
    engine.endMarkedContent();
    figure.end();
    return engine;
  };
  engine.end = () => {
    close();
    root.end();
    finish.call(engine);
  };
  return engine;
}

// pdfmake makes its engine within one call and writes into it at once: this is the only place to stand between.
const made = createRequire(import.meta.url)('pdfmake/src/pdfKitEngine') as {
  createPdfDocument(options: { info: { Author: string } }): Engine;
};
const { createPdfDocument } = made;
// The only pictures within papers are the firm's logo and drawn signatures.
made.createPdfDocument = (options) => marked(createPdfDocument(options), `Logo or signature: ${options.info.Author}`);
