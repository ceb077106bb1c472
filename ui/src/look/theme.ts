import type { ThemeConfig } from "antd";
import tokens from "./tokens.css?raw";

/** A value of tokens.css: the component library reckons with colours and can't read them from the page. */
function token(name: string): string {
  const value = tokens.match(new RegExp(`--${name}: (.+);`))?.[1];
  if (!value) throw new Error(`tokens.css has no --${name}`);
  return value;
}

/** The component library's tokens. */
export const theme: ThemeConfig = {
  token: {
    colorPrimary: token("in"),
    colorError: token("unaccounted"),
    colorWarning: token("late"),
    colorText: token("ink"),
    colorTextSecondary: token("ink-2"),
    colorTextPlaceholder: token("hint"),
    colorLink: token("in"),
    colorLinkHover: token("in-dark"),
    colorBorder: token("edge"),
    colorBgLayout: token("paper"),
    colorBgContainer: token("sheet"),
    colorBgElevated: token("sheet"),
    borderRadius: 4,
    fontFamily: token("type"),
    fontSize: 14,
    controlHeight: 30,
    controlHeightSM: 24, // px: no target is smaller
    motionDurationMid: "0.08s",
    motionDurationSlow: "0.12s",
  },
  components: {
    Select: { optionSelectedBg: token("in-wash") },
    Button: { primaryShadow: "none", defaultShadow: "none", fontWeight: 500 },
  },
};
