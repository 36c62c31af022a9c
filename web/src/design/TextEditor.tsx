import { autocompletion, type CompletionContext } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { codeFolding, foldGutter, foldKeymap, foldService } from "@codemirror/language";
import { setDiagnostics, type Diagnostic } from "@codemirror/lint";
import { Compartment, EditorState, RangeSetBuilder, type Extension } from "@codemirror/state";
import {
  Decoration,
  EditorView,
  keymap,
  ViewPlugin,
  type DecorationSet,
  type PluginValue,
  type ViewUpdate,
} from "@codemirror/view";
import { useEffect, useImperativeHandle, useRef, type Ref } from "react";

import type { TextFault } from "../api/client";
import { startOf } from "../shared/faults";

/** What part of a class the cursor stands in: its head, the line that opens a block, or a line below one. */
export type Where = "head" | "block" | "part" | "joined";

export type EditorHandle = { focusAt: (from: number, to: number) => void };

type Props = {
  text: string;
  faults: TextFault[];
  notices: TextFault[];
  /** words that may stand in a line, and names of exercises */
  words: string[];
  names: string[];
  onChange: (text: string) => void;
  onWhere: (where: Where) => void;
  ref?: Ref<EditorHandle>;
};

const isBlock = (line: string) => /^\s*block\b/i.test(line);

/** A block can be folded to the line that opens it. */
const blocksFold = foldService.of((state, from) => {
  const opening = state.doc.lineAt(from);
  if (!isBlock(opening.text)) return null;
  let last = opening;
  for (let number = opening.number + 1; number <= state.doc.lines; number += 1) {
    const line = state.doc.line(number);
    if (isBlock(line.text)) break;
    if (line.text.trim()) last = line;
  }
  return last.number > opening.number ? { from: opening.to, to: last.to } : null;
});

/** The lines that open blocks, and the words that open a line of the head, stand out. */
class Openings implements PluginValue {
  decorations: DecorationSet;
  constructor(view: EditorView) {
    this.decorations = this.build(view);
  }
  update(change: ViewUpdate) {
    if (change.docChanged || change.viewportChanged) this.decorations = this.build(change.view);
  }
  private build(view: EditorView): DecorationSet {
    const builder = new RangeSetBuilder<Decoration>();
    const strong = Decoration.mark({ class: "cm-opening" });
    for (const { from, to } of view.visibleRanges) {
      for (let at = from; at <= to;) {
        const line = view.state.doc.lineAt(at);
        if (isBlock(line.text)) builder.add(line.from, line.to, strong);
        at = line.to + 1;
      }
    }
    return builder.finish();
  }
}

const openings = ViewPlugin.fromClass(Openings, { decorations: (plugin) => plugin.decorations });

function completing(words: string[], names: string[]): Extension {
  return autocompletion({
    override: [
      (context: CompletionContext) => {
        const line = context.state.doc.lineAt(context.pos);
        const before = line.text.slice(0, context.pos - line.from);
        const name = /^\s*(?:\+\s*|or\s+)?([a-z][a-z' -]*)$/i.exec(before);
        if (name?.[1] && name[1].length > 1 && !isBlock(before)) {
          const from = context.pos - name[1].length;
          return { from, options: names.map((label) => ({ label, type: "exercise" })), validFor: /^[a-z' -]*$/i };
        }
        const word = context.matchBefore(/[a-z]+$/i);
        if (!word || (word.text.length < 2 && !context.explicit)) return null;
        return { from: word.from, options: words.map((label) => ({ label, type: "word" })), validFor: /^[a-z ]*$/i };
      },
    ],
  });
}

function whereOf(state: EditorState): Where {
  const line = state.doc.lineAt(state.selection.main.head);
  if (isBlock(line.text)) return "block";
  for (let number = line.number - 1; number >= 1; number -= 1) {
    if (isBlock(state.doc.line(number).text)) return /^\s*\+/.test(line.text) ? "joined" : "part";
  }
  return "head";
}

const look = EditorView.theme({
  "&": { height: "52vh", fontSize: "0.95rem" },
  "&.cm-focused": { outline: "2px solid currentColor", outlineOffset: "1px" },
  ".cm-content": { fontFamily: "inherit", lineHeight: "1.5rem", caretColor: "currentColor" },
  ".cm-scroller": { fontFamily: "inherit" },
  ".cm-opening": { fontWeight: 600 },
  ".cm-gutters": { background: "transparent", border: "none", color: "inherit" },
  ".cm-lintRange-error": {
    backgroundImage: "none",
    textDecoration: "underline wavy var(--color-error)",
    textUnderlineOffset: "3px",
  },
  ".cm-lintRange-info": {
    backgroundImage: "none",
    textDecoration: "underline dotted currentColor",
    textUnderlineOffset: "3px",
  },
  ".cm-tooltip": { background: "var(--color-base-100)", color: "inherit", border: "1px solid var(--color-base-300)" },
  ".cm-tooltip-autocomplete > ul > li[aria-selected]": {
    background: "var(--color-primary)",
    color: "var(--color-primary-content)",
  },
  ".cm-foldPlaceholder": { background: "var(--color-base-200)", border: "none", color: "inherit", padding: "0 0.4rem" },
});

/** The text of a class as it is typed: faults underlined where they are, names completed, blocks folded. */
export default function TextEditor({ text, faults, notices, words, names, onChange, onWhere, ref }: Props) {
  const host = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView | null>(null);
  const completion = useRef(new Compartment());
  const told = useRef({ onChange, onWhere });
  useEffect(() => {
    told.current = { onChange, onWhere };
  }, [onChange, onWhere]);

  useEffect(() => {
    // in a tree of its own: its styles come as a sheet, not as an element that the page's policy refuses
    const root = host.current!.shadowRoot ?? host.current!.attachShadow({ mode: "open" });
    const editor = new EditorView({
      root,
      state: EditorState.create({
        doc: text,
        extensions: [
          history(),
          keymap.of([...foldKeymap, ...historyKeymap, ...defaultKeymap]),
          codeFolding(),
          foldGutter(),
          blocksFold,
          openings,
          look,
          EditorView.lineWrapping,
          EditorState.tabSize.of(2),
          EditorView.contentAttributes.of({ "aria-label": "The class as text", spellcheck: "false", tabindex: "0" }),
          completion.current.of([]),
          EditorView.updateListener.of((change) => {
            if (change.docChanged) told.current.onChange(change.state.doc.toString());
            if (change.docChanged || change.selectionSet) told.current.onWhere(whereOf(change.state));
          }),
        ],
      }),
    });
    root.append(editor.dom);
    view.current = editor;
    editor.focus();
    return () => editor.destroy();
    // the editor is made once; what changes later is handed to it below
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);

  useEffect(() => {
    view.current?.dispatch({ effects: completion.current.reconfigure(completing(words, names)) });
  }, [words, names]);

  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    // what stands in it can be read from its host, as from any field
    Object.assign(host.current!, { value: text });
    const now = editor.state.doc.toString();
    if (now !== text) editor.dispatch({ changes: { from: 0, to: now.length, insert: text } });
  }, [text]);

  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const length = editor.state.doc.length;
    const marked = (severity: "error" | "info") => (fault: TextFault) => {
      const from = Math.min(length, startOf(text, fault));
      const message = severity === "error" ? fault.message : `read as: ${fault.message}`;
      return { from, to: Math.min(length, from + fault.length), severity, message } satisfies Diagnostic;
    };
    editor.dispatch(setDiagnostics(editor.state, [...faults.map(marked("error")), ...notices.map(marked("info"))]));
  }, [faults, notices, text]);

  useImperativeHandle(ref, () => ({
    focusAt: (from, to) => {
      view.current?.focus();
      view.current?.dispatch({ selection: { anchor: from, head: to }, scrollIntoView: true });
    },
  }));

  return (
    <div
      ref={host}
      data-testid="text-editor"
      className={`rounded border bg-base-100 ${faults.length ? "border-error" : "border-base-300"}`}
    />
  );
}
