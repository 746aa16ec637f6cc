/** What page and server say to each other. */
export {
  type ChainEntry,
  type ChainName,
  chainEntrySchema,
  chainNameSchema,
  type ChainState,
  chainStateSchema,
} from '../protocol/chainState.ts';
export {
  type Desk,
  deskSchema,
  EMPTY_DESK,
  shelfSchema,
  type Slot,
  type SlotLetter,
  slotNameSchema,
  SLOTS,
} from '../protocol/desk.ts';
export { MIX_LEVEL, MIX_OFFSET, type Mixed, type MixOrder, mixOrderSchema, type MixPart } from '../protocol/mix.ts';
export {
  type Render,
  type RenderOrder,
  renderOrderSchema,
  renderSchema,
  renderWithChainSchema,
} from '../protocol/render.ts';
export {
  type Dither,
  ditherSchema,
  type Sound,
  SOUND_FILE_KINDS,
  SOUND_KINDS,
  type SoundChange,
  soundChangeSchema,
  soundExportSchema,
  type SoundFileKind,
  type SoundName,
  soundNameSchema,
  type SoundNeeds,
  soundNeedsSchema,
  soundSchema,
  type Storage,
  storageSchema,
  type TakenSound,
  takenSoundSchema,
} from '../protocol/sound.ts';
export {
  type FavouriteChain,
  favouriteChainSchema,
  MOST_SCRIPT_BYTES,
  type ScriptEntry,
  scriptEntrySchema,
  scriptTextSchema,
} from '../protocol/script.ts';
