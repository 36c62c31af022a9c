import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

// The folders of src/, from the bottom up: a folder may import from those on the lines below its own and from itself.
// Faces of a class and pages do not know one another.
const LAYERS = [
  ["basis"],
  ["api"],
  ["shared"],
  ["keeping"],
  ["drawing", "catalogue", "live", "who", "paper"],
  ["draft"],
  ["class"],
  ["score", "floor", "heart", "ledger"],
  [
    "design",
    "classes",
    "compare",
    "account",
    "people",
    "progress",
    "loads",
    "course",
    "today",
    "book",
    "room",
    "run",
    "wall",
    "phone",
    "generate",
  ],
  ["app"],
];

const fences = LAYERS.flatMap((layer, height) =>
  layer.map((folder) => {
    const closed = LAYERS.flatMap((other, at) => (at < height ? [] : other)).filter((other) => other !== folder);
    const message = `src/${folder} lies below that folder or beside it: see the layers in eslint.config.js.`;
    return {
      files: [`src/${folder}/**/*.{ts,tsx}`],
      rules: {
        "no-restricted-syntax": [
          "error",
          { selector: `ImportExpression[source.value=/^(\\.\\.\\/)+(${closed.join("|")})\\//]`, message },
        ],
        "no-restricted-imports": [
          "error",
          {
            patterns: [
              {
                regex: `^(\\.\\./)+(${closed.join("|")})(/|$)`,
                message,
              },
            ],
          },
        ],
      },
    };
  }),
);

export default tseslint.config(
  { ignores: ["dist", "src/api/schema.d.ts"] },
  ...tseslint.configs.recommended,
  hooks.configs.flat["recommended-latest"],
  ...fences,
);
