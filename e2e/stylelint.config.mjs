export default {
  extends: "stylelint-config-standard",
  rules: {
    "no-descending-specificity": null, // states come after what they change, by capability
    "selector-class-pattern": null,
    "declaration-block-no-redundant-longhand-properties": null, // one thing a line
    "custom-property-empty-line-before": null,
    "font-family-name-quotes": null,
  },
};
