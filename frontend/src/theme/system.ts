/** The component library under our own look: only the recipes in use, with our colours and type. */

import { createSystem, defaultBaseConfig, defineConfig } from "@chakra-ui/react";
import {
  breakpoints,
  buttonRecipe,
  dialogSlotRecipe,
  fieldSlotRecipe,
  inputRecipe,
  keyframes,
  layerStyles,
  nativeSelectSlotRecipe,
  skeletonRecipe,
  textareaRecipe,
  textStyles,
  tokens,
} from "@chakra-ui/react/theme";
import { colour, properties } from "./tokens";

const token = (value: string) => ({ value });

const base = defineConfig({
  preflight: true,
  theme: { breakpoints, keyframes, tokens, textStyles, layerStyles },
});

const ours = defineConfig({
  theme: {
    tokens: {
      fonts: {
        body: token("var(--text)"),
        heading: token("var(--text)"),
        mono: token("var(--figures)"),
      },
      radii: { l1: token("3px"), l2: token("3px"), l3: token("4px") },
    },
    semanticTokens: {
      colors: {
        bg: { DEFAULT: token(colour.paper), panel: token(colour.raised), subtle: token(colour.paper) },
        fg: { DEFAULT: token(colour.ink), muted: token(colour.quiet), error: token(colour.madder) },
        border: { DEFAULT: token(colour.rule), error: token(colour.madder) },
        kelp: {
          solid: token(colour.kelp),
          contrast: token(colour.raised),
          fg: token(colour.kelp),
          muted: token(colour.paleKelp),
          subtle: token(colour.paleKelp),
          emphasized: token(colour.paleKelp),
          focusRing: token(colour.kelp),
        },
      },
    },
    recipes: {
      button: buttonRecipe,
      input: inputRecipe,
      textarea: textareaRecipe,
      skeleton: skeletonRecipe,
    },
    slotRecipes: {
      dialog: dialogSlotRecipe,
      field: fieldSlotRecipe,
      nativeSelect: nativeSelectSlotRecipe,
    },
  },
  globalCss: { ":root": properties, html: { colorPalette: "kelp" } },
});

export const system = createSystem(defaultBaseConfig, base, ours);
