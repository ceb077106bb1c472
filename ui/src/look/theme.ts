import type { ThemeConfig } from "antd";

/** The component library's tokens; the same values stand in tokens.css. */
export const theme: ThemeConfig = {
  token: {
    colorPrimary: "#0c5a63",
    colorError: "#b4281e",
    colorWarning: "#8f5b00",
    colorText: "#1c2a31",
    colorTextSecondary: "#55646b",
    colorTextPlaceholder: "#68757b",
    colorLink: "#0c5a63",
    colorLinkHover: "#094850",
    colorBorder: "#b9b2a3",
    colorBgLayout: "#f6f3ec",
    colorBgContainer: "#fffefb",
    colorBgElevated: "#fffefb",
    borderRadius: 4,
    fontFamily: '"Atkinson Hyperlegible Next", system-ui, sans-serif',
    fontSize: 14,
    controlHeight: 30,
    motionDurationMid: "0.08s",
    motionDurationSlow: "0.12s",
  },
  components: { Button: { primaryShadow: "none", defaultShadow: "none", fontWeight: 500 } },
};
