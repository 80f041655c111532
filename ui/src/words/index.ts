export { words } from "./en";
