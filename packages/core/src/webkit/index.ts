export { fileBase, fontFaceRule, kitTexts, type KitFace, type KitText } from './kit.js';
