import { createSystem, defaultBaseConfig, defineConfig } from '@chakra-ui/react';
import {
  animationStyles,
  breakpoints,
  buttonRecipe,
  checkboxSlotRecipe,
  checkmarkRecipe,
  cssVarsPrefix,
  cssVarsRoot,
  dialogSlotRecipe,
  fieldSlotRecipe,
  globalCss,
  headingRecipe,
  iconRecipe,
  inputRecipe,
  kbdRecipe,
  keyframes,
  layerStyles,
  linkRecipe,
  listSlotRecipe,
  menuSlotRecipe,
  nativeSelectSlotRecipe,
  progressSlotRecipe,
  semanticTokens,
  spinnerRecipe,
  switchSlotRecipe,
  tableSlotRecipe,
  tabsSlotRecipe,
  textStyles,
  textareaRecipe,
  toastSlotRecipe,
  tokens,
  tooltipSlotRecipe,
} from '@chakra-ui/react/theme';

/**
 * The library's own theme with the components that are used here: all of them would be more code than the rest of the
 * library. One that is used for the first time is added here.
 */
const base = defineConfig({
  preflight: true,
  cssVarsPrefix,
  cssVarsRoot,
  globalCss,
  theme: {
    breakpoints,
    keyframes,
    tokens,
    semanticTokens,
    textStyles,
    layerStyles,
    animationStyles,
    recipes: {
      button: buttonRecipe,
      checkmark: checkmarkRecipe,
      heading: headingRecipe,
      icon: iconRecipe,
      input: inputRecipe,
      kbd: kbdRecipe,
      link: linkRecipe,
      spinner: spinnerRecipe,
      textarea: textareaRecipe,
    },
    slotRecipes: {
      checkbox: checkboxSlotRecipe,
      dialog: dialogSlotRecipe,
      field: fieldSlotRecipe,
      list: listSlotRecipe,
      menu: menuSlotRecipe,
      nativeSelect: nativeSelectSlotRecipe,
      progress: progressSlotRecipe,
      switch: switchSlotRecipe,
      table: tableSlotRecipe,
      tabs: tabsSlotRecipe,
      toast: toastSlotRecipe,
      tooltip: tooltipSlotRecipe,
    },
  },
});

/** Paper and soot: a ledger of ink on warm paper, and the same by lamplight. Copper marks places, verdigris what runs. */
const config = defineConfig({
  globalCss: {
    'html, body': { bg: 'paper', color: 'ink', fontFamily: 'body', fontSize: '14px', height: '100%' },
    '#root': { height: '100%' },
    '*:focus-visible': { outline: '2px solid', outlineColor: 'copper', outlineOffset: '2px' },
    '*, *::before, *::after': {
      _motionReduce: { animationDuration: '0s !important', transitionDuration: '0s !important' },
    },
  },
  theme: {
    tokens: {
      fonts: {
        body: { value: '"Source Sans 3 Variable", system-ui, sans-serif' },
        heading: { value: '"Source Serif 4 Variable", Georgia, serif' },
        mono: { value: '"Source Code Pro Variable", ui-monospace, monospace' },
      },
      radii: { l1: { value: '2px' }, l2: { value: '3px' }, l3: { value: '4px' } },
    },
    semanticTokens: {
      colors: {
        paper: { value: { base: '#f7f1e4', _dark: '#1c1a1d' } },
        sheet: { value: { base: '#fdf9f0', _dark: '#252227' } },
        shade: { value: { base: '#ece3cf', _dark: '#302c31' } },
        rule: { value: { base: '#cdbf9f', _dark: '#4b4448' } },
        ink: { value: { base: '#24222b', _dark: '#ece4d4' } },
        faded: { value: { base: '#5d5344', _dark: '#b5a992' } },
        copper: { value: { base: '#8a4423', _dark: '#e0925f' } },
        verdigris: { value: { base: '#22604f', _dark: '#76c2ab' } },
        alarm: { value: { base: '#a3231f', _dark: '#ff8f83' } },
        bg: {
          DEFAULT: { value: { base: '#fdf9f0', _dark: '#252227' } },
          panel: { value: { base: '#fdf9f0', _dark: '#252227' } },
        },
        border: { DEFAULT: { value: { base: '#cdbf9f', _dark: '#4b4448' } } },
        fg: {
          DEFAULT: { value: { base: '#24222b', _dark: '#ece4d4' } },
          muted: { value: { base: '#5d5344', _dark: '#b5a992' } },
        },
        copperInk: {
          solid: { value: { base: '#8a4423', _dark: '#e0925f' } },
          contrast: { value: { base: '#fdf9f0', _dark: '#1c1a1d' } },
          fg: { value: { base: '#8a4423', _dark: '#e0925f' } },
          muted: { value: { base: '#ecd9c6', _dark: '#4d382c' } },
          subtle: { value: { base: '#f3e6d8', _dark: '#3a2d26' } },
          emphasized: { value: { base: '#dfc3a8', _dark: '#67482f' } },
          focusRing: { value: { base: '#8a4423', _dark: '#e0925f' } },
        },
      },
    },
  },
});

export const system = createSystem(defaultBaseConfig, base, config);
