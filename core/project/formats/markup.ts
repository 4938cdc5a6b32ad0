import { type TokenizerCallbacks as Callbacks, Tokenizer } from 'htmlparser2';

const ignored = () => {};
const NOTHING: Callbacks = {
  onattribdata: ignored,
  onattribend: ignored,
  onattribentity: ignored,
  onattribname: ignored,
  oncdata: ignored,
  onclosetag: ignored,
  oncomment: ignored,
  ondeclaration: ignored,
  onend: ignored,
  onopentagend: ignored,
  onopentagname: ignored,
  onprocessinginstruction: ignored,
  onselfclosingtag: ignored,
  ontext: ignored,
  ontextentity: ignored,
};

/** Goes through XML or HTML, which need not be well formed; places are those of the text. No entity is ever expanded. */
export function walkMarkup(text: string, kind: 'xml' | 'html', callbacks: Partial<Callbacks>): void {
  const tokenizer = new Tokenizer(
    { xmlMode: kind === 'xml', decodeEntities: false },
    { ...NOTHING, ...callbacks },
  );
  tokenizer.write(text);
  tokenizer.end();
}
