"""Who is where when: on the clock, or at their own pace."""
